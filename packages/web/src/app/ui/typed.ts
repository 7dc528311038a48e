/** What is in the field that an event comes from; empty for one from elsewhere. */
export function typed({ target }: Event): string {
  const isField =
    target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
  return isField ? target.value : '';
}

/** Whether the box that an event comes from is ticked. */
export const isTicked = ({ target }: Event): boolean => target instanceof HTMLInputElement && target.checked;

/** The file that was chosen in a box; undefined for none. */
export const chosenFile = ({ target }: Event): File | undefined =>
  target instanceof HTMLInputElement ? target.files?.[0] : undefined;

/** Which of these is chosen in the field that an event comes from; undefined for none of them. */
export const chosenOf = <T extends string>(values: readonly T[], event: Event): T | undefined =>
  values.find((value) => value === typed(event));
