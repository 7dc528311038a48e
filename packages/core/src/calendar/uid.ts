/**
 * The UID of one person's entry where everybody has their own time: two people who share a calendar must not have one
 * entry overwrite the other (RFC 5545 §3.8.4.7 asks for one UID for each thing).
 */
export const personalUid = (uid: string, personId: number): string => uid.replace('@', `-p${personId.toString(36)}@`);

/** The event's UID, from its own or from a person's. */
export const eventUidOf = (uid: string): string => uid.replace(/-p[0-9a-z]{1,11}@/, '@');
