import type { CueFields, EventChanges } from '@convite/contract';
import { plainDocument, type Channel } from '@convite/core';
import type { EmailMessage, Refusal } from '../mail/message';
import { houseWordings } from '../services/sending/house-wordings';
import { sendInvitations } from '../services/sending/invite';
import { describeChanges } from '../services/sending/notices';
import { actor, countAll, scriptedEnd, untilSettled, workOn, type Stage } from './stage';

/** A cue a day before the start, for whoever is invited and did not say no. */
export const dayBeforeCue = ({
  subject = 'Tomorrow: {{event.title}}, {{event.date}}',
  body = '{{person.firstName}}: {{event.when}} {{event.place}} {{link.reply}}',
  ...over
}: Partial<CueFields & { subject: string; body: string }> = {}): CueFields => ({
  name: 'Tomorrow',
  channel: 'email',
  moment: { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
  isDraft: false,
  audience: {
    invitees: ['accepted', 'tentative', 'needs-action'],
    lists: [],
    exceptLists: [],
    exceptReplies: [],
    topics: null,
  },
  wording: plainDocument(subject, body),
  ...over,
});

interface HowToInvite {
  readonly channel?: Channel;
  /** The stage's list when left out; none for guests who hold nothing yet. */
  readonly lists?: number[];
  /** Needed above a hundred. */
  readonly confirmedCount?: number;
}

/** Invites people in the house's words. Nothing has left yet. */
export function invite(
  { context, list }: Stage,
  event: number,
  { channel = 'email', lists = [list], confirmedCount }: HowToInvite = {},
): Promise<number> {
  const wording = channel === 'email' ? houseWordings.invitation : houseWordings.invitationText;
  const request = { lists, channel, wording, confirmedCount: confirmedCount ?? null };
  return sendInvitations(context, event, request, actor);
}

/** Lets everything that is due go out, and says which emails did. */
export async function deliver(
  stage: Stage,
  answer?: (message: EmailMessage) => Refusal | null,
): Promise<readonly EmailMessage[]> {
  const mail = scriptedEnd<EmailMessage>(answer);
  const worker = await workOn(stage, { mail });
  await untilSettled(stage);
  await worker.stop();
  return mail.taken;
}

/** What the changes of an event come to, once its guests are counted. */
export async function countedChanges(stage: Stage, event: number): Promise<EventChanges> {
  await countAll(stage);
  return describeChanges(stage.context, event);
}
