import type { TriedPart, TryOut } from '@convite/contract';
import { conformanceWords, linkFaultWords } from '@convite/contract';
import { mostMailOctets, nextOccurrence, testLink, type WordingDocument } from '@convite/core';
import { doesAnswer } from '../../net/does-answer';
import { checkWording } from '../countdown/check-wording';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { previewInvitation } from './preview-invitation';
import { lacksToSend } from './refuse-unsendable';

/** So many addresses that lead elsewhere are asked. */
const mostAsked = 12;

/**
 * Tries an invitation before anybody gets it: the calendar entry against the standards, the mail around it, and every link:
 * those to web calendars say what the event says, those to this house and elsewhere answer.
 */
export async function tryOut(context: Context, eventId: number, wording: WordingDocument): Promise<TryOut> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const { allowPrivateAddresses } = settings;
  const lack = lacksToSend(settings, 'email');
  const preview = await previewInvitation(context, eventId, null, wording);
  const { facts } = event.version;
  const shown = nextOccurrence(facts, context.clock.now())?.facts ?? facts;

  const broken = preview.conformance.filter(({ isKept }) => !isKept);
  const entry: TriedPart = {
    part: 'entry',
    name: 'Calendar entry',
    isGood: broken.length === 0,
    said: broken.length
      ? broken.map(({ rule, source, found }) => `${wordsOf(rule)} (${source}): ${found}`).join(' ')
      : `${preview.conformance.length} checks against the standards, all kept.`,
  };
  const faults = [
    ...(checkWording(wording, 'email').length ? ['The words are not finished.'] : []),
    ...(preview.message.octets > mostMailOctets ? ['It is over 100 kB; mail programs cut it.'] : []),
    ...(lack === null ? [] : [lack]),
  ];
  const mail: TriedPart = {
    part: 'mail',
    name: 'Mail',
    isGood: faults.length === 0,
    said:
      faults.join(' ') ||
      `“${preview.message.subject}”, ${Math.max(1, Math.round(preview.message.octets / 1000))} kB, with postal address and opt-out.`,
  };
  const calendars = preview.links.map(({ name, url }): TriedPart => {
    const { isGood, lines } = testLink(url, shown);
    const wrong = lines.flatMap((line) => line.faults.map((fault) => linkFaultWords[fault] ?? fault));
    return { part: 'web-calendar', name, isGood, said: isGood ? 'It says what the event says.' : wrong.join(' ') };
  });
  const elsewhere = addressesIn(preview.message.html, facts.joinLink).filter(
    (url) => !context.links.isOwn(url) && !preview.links.some((link) => link.url === url),
  );
  const asked = await Promise.all([
    doesAnswer(context.links.health, true).then(({ isGood, said }): TriedPart => ({
      part: 'house',
      name: 'Pages, replies, calendar files',
      isGood,
      said: isGood ? 'This house answers at the address that the links name.' : said,
    })),
    ...elsewhere.slice(0, mostAsked).map(async (url): Promise<TriedPart> => {
      const isJoin = url === facts.joinLink;
      const name = isJoin ? 'Join link' : url;
      return { part: isJoin ? 'join-link' : 'link', name, ...(await doesAnswer(url, allowPrivateAddresses)) };
    }),
  ]);
  return {
    parts: [entry, mail, ...asked, ...calendars],
    isSendable: lack === null,
    unasked: Math.max(0, elsewhere.length - mostAsked),
  };
}

const wordsOf = (rule: string): string =>
  Object.entries(conformanceWords).find(([known]) => known === rule)?.[1] ?? rule;

/** What people can press: where the mail leads, and where the entry does. */
function addressesIn(html: string, joinLink: string): string[] {
  const hrefs = [...html.matchAll(/href="(https?:[^"]+)"/g)].map(([, url = '']) => url.replaceAll('&amp;', '&'));
  return [...new Set([...(joinLink ? [joinLink] : []), ...hrefs])];
}
