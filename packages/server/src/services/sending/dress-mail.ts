import { blockWords, escapeHtml, sayLongDay, wallTimeAt, type Manner, type Rendered } from '@convite/core';
import type { House } from '../../store/said';
import type { Context } from '../context';

/** Where a reader chooses what they get, or opts out. */
interface Way {
  readonly label: string;
  readonly url: string;
}

/**
 * What is said, in the house's look: its design, colour and letters, its name above, its signature and postal address below; in
 * plain text the same.
 * @param reader `ways` is empty for a message that is about no list
 */
export function dressMail(
  { frames, links, clock }: Pick<Context, 'frames' | 'links' | 'clock'>,
  settings: House,
  said: Rendered,
  { manner, ways }: { readonly manner: Manner; readonly ways: readonly Way[] },
): Pick<Rendered, 'subject' | 'preheader' | 'html' | 'text'> {
  const { look, page, organisation, postalAddress, takesNoAnswers = false } = settings;
  const words = blockWords[manner.language ?? 'en'];
  const { subject } = said;
  const preheader = said.preheader || said.text.slice(0, 120).replace(/\s+/g, ' ');
  const { mark } = look;
  const name = escapeHtml(organisation);
  const html = frames({ design: said.design ?? look.design, colour: page.colour.toLowerCase(), face: look.face })({
    language: manner.language ?? 'en',
    title: escapeHtml(subject),
    preheader: escapeHtml(preheader),
    // The name stands beside it: a mark that is not seen is not missed.
    house: mark
      ? `<img src="${escapeHtml(links.picture(mark.digest))}" height="${markHeight}" width="${Math.round((mark.width * markHeight) / mark.height)}" alt="" style="border:0;vertical-align:middle" /> ${name}`
      : name,
    header: below(look.header),
    day: escapeHtml(sayLongDay(wallTimeAt(clock.now(), settings.zone).slice(0, 10), manner)),
    facts: factsHtml(said),
    body: said.html,
    signature: look.signature ? `<p style="margin:0 0 16px">${linesHtml(look.signature)}</p>` : '',
    footer: look.footer ? `${linesHtml(look.footer)}<br />` : '',
    postal: (takesNoAnswers ? `${escapeHtml(words.noAnswers)}<br />` : '') + linesHtml(postalAddress),
    optOut: ways.length
      ? `<br />${ways.map(({ label, url }) => `<a href="${escapeHtml(url)}" style="color:inherit">${escapeHtml(label)}</a>`).join(' · ')}`
      : '',
  });
  const foot = [
    look.footer,
    takesNoAnswers ? words.noAnswers : '',
    postalAddress,
    ...ways.map(({ label, url }) => `${label}: ${url}`),
  ].filter(Boolean);
  const text = [[said.text, look.signature].filter(Boolean).join('\n\n'), `-- \n${foot.join('\n')}\n`].join('\n\n');
  return { subject, preheader, html, text };
}

/** In pixels. */
const markHeight = 40;

const linesHtml = (text: string): string => escapeHtml(text).replaceAll('\n', '<br />');
const below = (line: string): string =>
  line ? `<br /><span style="letter-spacing:normal;font-size:13px">${escapeHtml(line)}</span>` : '';

/** When and where, for designs that show it by themselves. */
function factsHtml({ when, place }: Rendered): string {
  const where = /^https?:/.test(place)
    ? `<a href="${escapeHtml(place)}" style="color:inherit">${escapeHtml(place)}</a>`
    : escapeHtml(place);
  const lines = [when && `<b>${escapeHtml(when)}</b>`, where].filter(Boolean);
  return lines.length ? `<p style="margin:0 0 16px">${lines.join('<br />')}</p>` : '';
}
