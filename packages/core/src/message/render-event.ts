import type { AboutEvent } from './about-event';
import type { Tone } from './block-words';
import type { ComingEvent } from './document';
import type { FieldValues } from './fields';
import { escapeHtml, mayBePressed } from './html';
import type { Styles } from './styles';

interface Said {
  readonly html: string;
  readonly text: string;
}
const nothing: Said = { html: '', text: '' };

/** When and where, each with its word; what leads online is pressed. */
export function sayEvent(values: FieldValues, { words }: AboutEvent, styles: Styles): Said {
  const join = values['event.joinLink'] ?? '';
  const place = values['event.place'] ?? '';
  const when = [values['event.when'] ?? '', values['event.repeats'] ?? ''].filter(Boolean);
  const where = [place === join ? '' : place].filter(Boolean);
  const press = join ? `<br />${pressHtml(join, words.join, styles.pressBelow)}` : '';
  const text = [
    when.length ? `${words.when}: ${when.join('\n')}` : '',
    where.length + join.length ? `${words.where}: ${[...where, join].filter(Boolean).join('\n')}` : '',
  ].filter(Boolean);
  if (text.length === 0) return nothing;
  return {
    text: text.join('\n'),
    html: apart(rowHtml(words.when, when, styles) + rowHtml(words.where, where, styles, press), styles),
  };
}

/** What the reader put themselves down for: how many places, for which dates, under which number. */
export function sayPlaces({ words, places }: AboutEvent, styles: Styles): Said {
  if (!places) return nothing;
  const rows = [
    [words.places, [String(places.count)]],
    [words.dates, places.dates],
    [words.reference, [places.reference]],
  ] as const;
  const said = rows.filter(([, lines]) => lines.length > 0 && lines[0] !== '');
  return {
    text: said.map(([word, lines]) => `${word}: ${lines.join('\n')}`).join('\n'),
    html: apart(said.map(([word, lines]) => rowHtml(word, lines, styles)).join(''), styles),
  };
}

/** What else is coming up, the next first. */
export function sayComing(events: readonly ComingEvent[], { whenOf }: AboutEvent, styles: Styles): Said {
  const said = events.map(({ title, url, facts }) => ({ title, url, when: whenOf(facts) }));
  return {
    text: said
      .map(({ title, when, url }) => `- ${title}\n  ${when}${mayBePressed(url) ? `\n  ${url}` : ''}`)
      .join('\n'),
    html: said
      .map(
        ({ title, when, url }) =>
          `<p style="margin:0 0 10px">${pressHtml(url, title, styles.link)}<br /><span${styles.quiet}>${escapeHtml(when)}</span></p>`,
      )
      .join(''),
  };
}

export function sayCalendars(values: FieldValues, { words, calendars }: AboutEvent, styles: Styles): Said {
  const file = values['link.ics'] ?? '';
  const links = [
    ...calendars.map(({ name, url }) => ({ label: words.addTo(name), url })),
    ...(file ? [{ label: words.calendarFile, url: file }] : []),
  ];
  if (links.length === 0) return nothing;
  return {
    text: links.map(({ label, url }) => `${label}: ${url}`).join('\n'),
    html: pressesHtml(links.map(({ label, url }) => pressHtml(url, label, styles.quietPress))),
  };
}

/** Each answer leads to the reader's own page, where one press more gives it: programs that look at links answer for nobody. */
export function sayReply(values: FieldValues, { words }: AboutEvent, styles: Styles, tone: Tone): Said {
  const url = values['link.reply'] ?? '';
  if (!url) return nothing;
  const { yes, perhaps, no } = words.answers[tone];
  const answers = [
    { label: yes, state: 'accepted', style: styles.press },
    { label: perhaps, state: 'tentative', style: styles.quietPress },
    { label: no, state: 'declined', style: styles.quietPress },
  ];
  return {
    text: `${answers.map(({ label }) => label).join(' / ')}: ${url}`,
    html: pressesHtml(answers.map(({ label, state, style }) => pressHtml(`${url}?say=${state}`, label, style))),
  };
}

/** How a message begins: by name where that is known. */
export function sayOpening(values: FieldValues, { words }: AboutEvent, styles: Styles, tone: Tone): Said {
  const name = values['person.firstName'] ?? '';
  const text = name ? words.openings[tone].to(name) : words.openings[tone].toNobody;
  return { text, html: `<p${styles.paragraph}>${escapeHtml(text)}</p>` };
}

export const pressHtml = (url: string, label: string, style: string): string =>
  mayBePressed(url) ? `<a href="${escapeHtml(url)}"${style}>${escapeHtml(label)}</a>` : escapeHtml(label);

const pressesHtml = (presses: readonly string[]): string => `<p style="margin:8px 0 16px">${presses.join(' ')}</p>`;

const apart = (rows: string, styles: Styles): string =>
  `<table role="presentation" cellpadding="0" cellspacing="0"${styles.apart}><tr><td style="padding:12px 16px">${rows}</td></tr></table>`;

const rowHtml = (word: string, said: readonly string[], styles: Styles, more = ''): string =>
  said.length === 0 && more === ''
    ? ''
    : `<p style="margin:4px 0"><span${styles.quiet}>${escapeHtml(word)}</span><br /><b>${said.map(escapeHtml).join('<br />')}</b>${more}</p>`;
