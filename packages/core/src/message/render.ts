import type { Problem } from '../problem';
import { blockWords, type BlockWords } from './block-words';
import { eventBlocks, type Block, type EventBlock, type Inline, type WordingDocument } from './document';
import type { FieldName, FieldValues } from './fields';
import { escapeHtml, lineToHtml, linkToHtml, mailDress, mayBePressed, quotedDress, textToHtml } from './html';
import { anyReader, isFor, type Only, type Reader } from './only';
import { tidyText } from './tidy-text';
import { fillWording, readWording, type WordingNode } from './wording';

/** A message filled for one person: the same said in HTML, and in plain text, which is also what a text message says. */
export interface Rendered {
  readonly subject: string;
  /** Empty where none was written. */
  readonly preheader: string;
  readonly html: string;
  readonly text: string;
}

/** A document made ready to be filled for one person after another: what it says of fields is read once. */
export interface PreparedDocument {
  readonly problems: readonly Problem[];
  /** Those that it asks for: what costs something to make is made only then. */
  readonly fields: ReadonlySet<FieldName>;
  /** Blocks about the event that stand in it. */
  readonly about: ReadonlySet<EventBlock>;
  /** For whom some of its blocks stand alone. */
  readonly onlys: readonly Only[];
  fill(values: FieldValues, about?: AboutEvent): Rendered;
  /** Fields that say nothing with these values, and have nothing to stand in for them. */
  emptyWith(values: FieldValues, about?: AboutEvent): FieldName[];
}

/** What blocks about an event say beside its fields. */
export interface AboutEvent {
  readonly words: BlockWords;
  /** Web calendars, each with its link for the reader. */
  readonly calendars: readonly { readonly name: string; readonly url: string }[];
  /** Where a picture of the house is. */
  readonly pictureUrl: (digest: string) => string;
  /** Of whom blocks ask that are only for some. */
  readonly reader: Reader;
}
const aboutNothing: AboutEvent = { words: blockWords.en, calendars: [], pictureUrl: () => '', reader: anyReader };

interface PreparedBlock {
  readonly problems: readonly Problem[];
  readonly fields: readonly FieldName[];
  /** Those of them that must say something: nothing stands in for them. */
  readonly needed?: readonly FieldName[];
  fill(values: FieldValues, about: AboutEvent): Filled;
}

interface Filled {
  readonly html: string;
  /** A block that says nothing is left out … */
  readonly text: string;
  /** … unless it is seen. */
  readonly isSeen?: boolean;
}

/** The one renderer: everything that reaches people by mail or text comes through here. */
export function prepareDocument({ subject, preheader = '', blocks }: WordingDocument): PreparedDocument {
  const title = readWording(subject, 'subject');
  const lead = readWording(preheader, 'preheader');
  const parts = blocks.map((block) => ({ ...prepareBlock(block), only: block.only }));
  const partsFor = ({ reader }: AboutEvent): typeof parts => parts.filter(({ only }) => !only || isFor(only, reader));
  return {
    problems: [...title.problems, ...lead.problems, ...parts.flatMap(({ problems }) => problems)],
    fields: new Set([...fieldsOf(title.nodes), ...fieldsOf(lead.nodes), ...parts.flatMap(({ fields }) => fields)]),
    onlys: blocks.flatMap(({ only }) => only ?? []),
    about: new Set(blocks.flatMap(({ kind }) => eventBlocks.find((one) => one === kind) ?? [])),
    fill(values, about = aboutNothing) {
      const filled = partsFor(about)
        .map((part) => part.fill(values, about))
        .filter(({ text, isSeen }) => text !== '' || isSeen);
      return {
        // One line whatever a title holds: no CR or LF from data ever reaches a header.
        subject: inOneLine(fillWording(title, values)),
        preheader: inOneLine(fillWording(lead, values)),
        html: filled.map(({ html }) => html).join(''),
        text: filled
          .map(({ text }) => text)
          .filter(Boolean)
          .join('\n\n'),
      };
    },
    emptyWith(values, about = aboutNothing) {
      const needed = [
        ...neededOf(title.nodes),
        ...neededOf(lead.nodes),
        ...partsFor(about).flatMap((part) => part.needed ?? []),
      ];
      return [...new Set(needed)].filter((field) => !values[field]);
    },
  };
}

const inOneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

const neededOf = (nodes: readonly WordingNode[]): FieldName[] =>
  nodes.flatMap((node) => ('field' in node && !node.fallback ? [node.field] : []));

const fieldsOf = (nodes: readonly WordingNode[]): FieldName[] =>
  nodes.flatMap((node) => ('field' in node ? [node.field] : []));

function prepareBlock(block: Block): PreparedBlock {
  switch (block.kind) {
    case 'plain': {
      const wording = readWording(block.text, 'body');
      return {
        problems: wording.problems,
        fields: fieldsOf(wording.nodes),
        needed: neededOf(wording.nodes),
        fill(values) {
          const text = tidyText(fillWording(wording, values));
          return { text, html: textToHtml(text, mailDress) };
        },
      };
    }
    case 'quoted': {
      const text = block.text.trim();
      return same({ text, html: textToHtml(text, quotedDress) });
    }
    case 'heading':
      return ofLine(block.line, '<h2 style="font-size:17px;color:#4A2545;margin:20px 0 6px">', '</h2>');
    case 'paragraph':
      return ofLine(block.line, `<p${mailDress.paragraph}>`, '</p>');
    case 'quote':
      return ofLine(
        block.line,
        '<blockquote style="margin:0 0 16px;padding:2px 0 2px 14px;border-left:3px solid #E3DCD0;color:#5A5F6B">',
        '</blockquote>',
      );
    case 'divider':
      return same({ text: '---', html: '<hr style="border:0;border-top:1px solid #E3DCD0;margin:22px 0" />' });
    case 'list': {
      const tag = block.isNumbered ? 'ol' : 'ul';
      return {
        problems: problemsIn(block.items),
        fields: fieldsIn(block.items),
        needed: neededIn(block.items),
        fill: (values) => ({
          text: block.items
            .map((item, index) => `${block.isNumbered ? `${index + 1}.` : '-'} ${sayLine(item, values)}`)
            .join('\n'),
          html: `<${tag} style="margin:0 0 16px;padding-left:22px">${block.items
            .map((item) => `<li>${showLine(item, values)}</li>`)
            .join('')}</${tag}>`,
        }),
      };
    }
    case 'button':
      return {
        ...ofLines([[block.address]], ([url = '']) =>
          // A field may be empty, and what was stored before it was checked may lead nowhere.
          mayBePressed(url)
            ? {
                text: `${block.label}: ${url}`,
                html: `<p style="margin:8px 0 16px">${pressHtml(url, block.label, buttonStyle)}</p>`,
              }
            : { text: '', html: '' },
        ),
        problems: problemsOfButton(block),
      };
    case 'picture':
      return {
        problems: block.link && !mayBePressed(block.link) ? [leadsNowhere(block.link)] : [],
        fields: [],
        fill: (_values, { pictureUrl }) => showPicture(block, pictureUrl(block.digest)),
      };
    case 'event':
      return {
        ...noProblems,
        fields: ['event.when', 'event.repeats', 'event.place', 'event.joinLink'],
        fill: (values, { words }) => sayEvent(values, words),
      };
    case 'calendar':
      return {
        ...noProblems,
        fields: ['link.ics'],
        fill: (values, about) => sayCalendars(values, about),
      };
    case 'reply':
      return { ...noProblems, fields: ['link.reply'], fill: (values, { words }) => sayReply(values, words) };
    case 'entry': {
      const { title, url, about, lead } = block;
      const html =
        `<p style="margin:0 0 10px">${linkToHtml(url, title, mailDress)}` +
        `<br /><span style="color:#5A5F6B">${escapeHtml(about)}</span></p>`;
      return same({ text: `  ${lead}\n  ${url}`, html });
    }
  }
}

const buttonStyle =
  'display:inline-block;padding:12px 22px;border-radius:4px;background:#4A2545;color:#FBF8F3;text-decoration:none';

/** Beside the one that is meant first. */
const quietButton =
  'display:inline-block;margin:0 4px 6px 0;padding:11px 18px;border-radius:4px;border:1px solid #4A2545;color:#4A2545;text-decoration:none';

const noProblems = { problems: [] } as const;

/** As wide as a mail without its margins. */
const mostWide = 552;

function showPicture({ width, height, words, link }: Extract<Block, { kind: 'picture' }>, url: string): Filled {
  if (!url) return { html: '', text: '' };
  const shown = Math.min(width, mostWide);
  // Where pictures are off, the words stand in their place, large enough to be read.
  const picture = `<img src="${escapeHtml(url)}" width="${shown}" height="${Math.round((height * shown) / width)}" alt="${escapeHtml(words)}" style="display:block;max-width:100%;height:auto;border:0;border-radius:4px;font-size:15px;color:#5A5F6B" />`;
  const leads = link && mayBePressed(link) ? link : '';
  return {
    html: `<p style="margin:8px 0 16px">${leads ? `<a href="${escapeHtml(leads)}">${picture}</a>` : picture}</p>`,
    text: [words && `[${words}]`, leads].filter(Boolean).join(' '),
    isSeen: true,
  };
}

/** When and where, each with its word; what leads online is pressed. */
function sayEvent(values: FieldValues, words: BlockWords): { html: string; text: string } {
  const join = values['event.joinLink'] ?? '';
  const place = values['event.place'] ?? '';
  const when = [values['event.when'] ?? '', values['event.repeats'] ?? ''].filter(Boolean);
  const where = [place === join ? '' : place].filter(Boolean);
  const row = (word: string, said: readonly string[], more = ''): string =>
    said.length === 0 && more === ''
      ? ''
      : `<p style="margin:4px 0"><span style="color:#5A5F6B">${escapeHtml(word)}</span><br /><b>${said.map(escapeHtml).join('<br />')}</b>${more}</p>`;
  const press = join ? `<br />${pressHtml(join, words.join, `${buttonStyle};margin-top:6px`)}` : '';
  const text = [
    when.length ? `${words.when}: ${when.join('\n')}` : '',
    where.length + join.length ? `${words.where}: ${[...where, join].filter(Boolean).join('\n')}` : '',
  ].filter(Boolean);
  return {
    text: text.join('\n'),
    html: `<table role="presentation" cellpadding="0" cellspacing="0" style="margin:0 0 16px;width:100%;background:#F4EEE4;border-radius:4px"><tr><td style="padding:12px 16px">${row(words.when, when)}${row(words.where, where, press)}</td></tr></table>`,
  };
}

function sayCalendars(values: FieldValues, { words, calendars }: AboutEvent): { html: string; text: string } {
  const file = values['link.ics'] ?? '';
  const links = [
    ...calendars.map(({ name, url }) => ({ label: words.addTo(name), url })),
    ...(file ? [{ label: words.calendarFile, url: file }] : []),
  ];
  return {
    text: links.map(({ label, url }) => `${label}: ${url}`).join('\n'),
    html: `<p style="margin:8px 0 16px">${links.map(({ label, url }) => pressHtml(url, label, quietButton)).join(' ')}</p>`,
  };
}

/** Each answer leads to the reader's own page, where one press more gives it: programs that look at links answer for nobody. */
function sayReply(values: FieldValues, words: BlockWords): { html: string; text: string } {
  const url = values['link.reply'] ?? '';
  if (!url) return { html: '', text: '' };
  const answers = [
    { label: words.yes, state: 'accepted', style: buttonStyle },
    { label: words.perhaps, state: 'tentative', style: quietButton },
    { label: words.no, state: 'declined', style: quietButton },
  ];
  return {
    text: `${answers.map(({ label }) => label).join(' / ')}: ${url}`,
    html: `<p style="margin:8px 0 16px">${answers
      .map(({ label, state, style }) => pressHtml(`${url}?say=${state}`, label, style))
      .join(' ')}</p>`,
  };
}

const pressHtml = (url: string, label: string, style: string): string =>
  `<a href="${escapeHtml(url)}" style="${style}">${escapeHtml(label)}</a>`;

/** A block that says the same to everybody. */
const same = (said: { readonly html: string; readonly text: string }): PreparedBlock => ({
  ...noProblems,
  fields: [],
  fill: () => said,
});

const ofLine = (line: readonly Inline[], open: string, close: string): PreparedBlock => ({
  problems: problemsIn([line]),
  fields: fieldsIn([line]),
  needed: neededIn([line]),
  fill: (values) => ({ text: sayLine(line, values), html: `${open}${showLine(line, values)}${close}` }),
});

const ofLines = (
  lines: readonly (readonly Inline[])[],
  write: (said: readonly string[]) => { readonly html: string; readonly text: string },
): PreparedBlock => ({
  problems: problemsIn(lines),
  fields: fieldsIn(lines),
  needed: neededIn(lines),
  fill: (values) => write(lines.map((line) => sayLine(line, values))),
});

const fieldsIn = (lines: readonly (readonly Inline[])[]): FieldName[] =>
  lines.flat().flatMap((piece) => (piece.kind === 'field' ? [piece.field] : []));

const neededIn = (lines: readonly (readonly Inline[])[]): FieldName[] =>
  lines.flat().flatMap((piece) => (piece.kind === 'field' && !piece.fallback ? [piece.field] : []));

/** What was typed as a field and is none. */
const problemsIn = (lines: readonly (readonly Inline[])[]): Problem[] =>
  lines.flat().flatMap((piece) => {
    if (piece.kind !== 'text') return [];
    const isBad = piece.link !== undefined && !mayBePressed(piece.link);
    return [...readWording(piece.text, 'body').problems, ...(isBad ? [leadsNowhere(piece.link)] : [])];
  });

const leadsNowhere = (address = ''): Problem => ({ code: 'bad-press', path: 'body', facts: { text: address } });

const problemsOfButton = ({ label, address }: Extract<Block, { kind: 'button' }>): Problem[] => [
  ...(label.trim() === '' ? [{ code: 'no-press-words', path: 'body' } as const] : []),
  ...(address.kind === 'text' && !mayBePressed(address.text) ? [leadsNowhere(address.text)] : []),
  ...(address.kind === 'field' && !address.field.startsWith('link.') && address.field !== 'event.joinLink'
    ? [leadsNowhere(address.field)]
    : []),
];

const valueOf = (piece: Extract<Inline, { kind: 'field' }>, values: FieldValues): string =>
  values[piece.field] || piece.fallback;

const sayLine = (line: readonly Inline[], values: FieldValues): string =>
  line
    .map((piece) => say(piece, values))
    .join('')
    // An empty field leaves no empty line.
    .replace(/\n\s*\n/g, '\n')
    .trim();
const showLine = (line: readonly Inline[], values: FieldValues): string =>
  line
    .map((piece) => show(piece, values))
    .join('')
    .replace(/^(?:<br \/>)+|(?:<br \/>)+$/g, '')
    .replace(/(?:<br \/>){2,}/g, '<br />');

/** In plain text: a link says its address, where that is not what it says anyway. */
function say(piece: Inline, values: FieldValues): string {
  if (piece.kind === 'break') return '\n';
  if (piece.kind === 'field') return valueOf(piece, values);
  const { text, link } = piece;
  return link && link !== text ? `${text} (${link})` : text;
}

function show(piece: Inline, values: FieldValues): string {
  if (piece.kind === 'break') return '<br />';
  const shown =
    piece.kind === 'field'
      ? valueOf(piece, values)
          .split('\n')
          .map((line) => lineToHtml(line, mailDress))
          .join('<br />')
      : piece.link && mayBePressed(piece.link)
        ? linkToHtml(piece.link, piece.text, mailDress)
        : escapeHtml(piece.text);
  const strong = piece.bold ? `<b>${shown}</b>` : shown;
  return piece.italic ? `<i>${strong}</i>` : strong;
}
