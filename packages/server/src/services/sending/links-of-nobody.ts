import type { Context } from '../context';
import type { Links } from './links';

/**
 * The same addresses, with everybody's own made for person 0, who is nobody: what they lead to says so and changes nothing
 * (`public/dead-links.ts`). Reading a token is as before, so that what was sent works.
 */
export const linksOfNobody = (links: Links): Links => ({
  ...links,
  personIcs: (eventId) => links.personIcs(eventId, 0),
  reply: (eventId) => links.reply(eventId, 0),
  personFeed: () => links.personFeed(0, 0),
  personPage: () => links.personPage(0, 0),
  preferences: () => links.preferences(0, 0),
  addressChange: (_id, end) => links.addressChange(0, end),
  confirmSignup: () => links.confirmSignup(0),
  confirmHold: () => links.confirmHold(0),
  standby: () => links.standby(0),
  optOut: () => links.optOut(0),
  optOutMailto: () => links.optOutMailto(0),
  messageId: () => links.messageId(0),
  bounceAddress: () => links.bounceAddress(0),
  guestAddress: () => links.repliesAddress,
  counted: (of, _id, link) => links.counted(of, 0, link),
  openPicture: () => links.openPicture(0),
  // As long as a real one: that of the ten-millionth message.
  short: (_id, index) => `${links.short(10_000_000, index).slice(0, -8)}${'-'.repeat(8)}`,
});

/**
 * What is composed with it is only looked at: whoever shows, exports or logs a message gets no address by which they could act
 * for its reader. Everything that members ask of the interface is answered with it.
 */
export const forShowing = (context: Context): Context => ({ ...context, links: linksOfNobody(context.links) });
