import type { Problem } from '../problem';
import type { AboutEvent } from './about-event';
import type { Block, Inline, LeafBlock } from './document';
import type { FieldName, FieldValues } from './fields';
import { escapeHtml, mailDressOf, mayBePressed, quotedDressOf, textToHtml } from './html';
import { pressHtml, sayCalendars, sayComing, sayEvent, sayOpening, sayPlaces, sayReply } from './render-event';
import { aboutLines, fieldsOf, leadsNowhere, neededOf, sayLine, showLine } from './render-line';
import type { Styles } from './styles';
import { tidyText } from './tidy-text';
import { fillWording, readWording } from './wording';

/** A block made ready to be filled. */
export interface PreparedBlock {
  readonly problems: readonly Problem[];
  readonly fields: readonly FieldName[];
  /** Those of them that must say something: nothing stands in for them. */
  readonly needed?: readonly FieldName[];
  fill(values: FieldValues, about: AboutEvent): Filled;
}

export interface Filled {
  readonly html: string;
  /** A block that says nothing is left out … */
  readonly text: string;
  /** … unless it is seen. */
  readonly isSeen?: boolean;
}

export function prepareBlock(block: Block, styles: Styles): PreparedBlock {
  const dress = mailDressOf(styles);
  const show = (line: readonly Inline[], values: FieldValues): string => showLine(line, values, dress);
  const ofLine = (line: readonly Inline[], open: string, close: string): PreparedBlock => ({
    ...aboutLines([line]),
    fill: (values) => ({ text: sayLine(line, values), html: `${open}${show(line, values)}${close}` }),
  });
  switch (block.kind) {
    case 'plain': {
      const wording = readWording(block.text, 'body');
      return {
        problems: wording.problems,
        fields: fieldsOf(wording.nodes),
        needed: neededOf(wording.nodes),
        fill(values) {
          const text = tidyText(fillWording(wording, values));
          return { text, html: textToHtml(text, dress) };
        },
      };
    }
    case 'quoted': {
      const text = block.text.trim();
      return same({ text, html: textToHtml(text, quotedDressOf(styles)) });
    }
    case 'html': {
      const [markup, words] = [readWording(block.html, 'body'), readWording(block.text ?? '', 'body')];
      return {
        problems: markup.problems,
        fields: fieldsOf(markup.nodes),
        needed: neededOf(markup.nodes),
        fill: (values) => ({
          text: tidyText(fillWording(words, values)),
          html: fillWording(markup, values, escapeHtml),
          isSeen: true,
        }),
      };
    }
    case 'heading':
      return ofLine(block.line, `<h2${styles.heading}>`, '</h2>');
    case 'paragraph':
      return ofLine(block.line, `<p${styles.paragraph}>`, '</p>');
    case 'quote':
      return ofLine(block.line, `<blockquote${styles.quote}>`, '</blockquote>');
    case 'divider':
      return same({ text: '---', html: `<hr${styles.rule} />` });
    case 'list': {
      const tag = block.isNumbered ? 'ol' : 'ul';
      return {
        ...aboutLines(block.items),
        fill: (values) => ({
          text: block.items
            .map((item, index) => `${block.isNumbered ? `${index + 1}.` : '-'} ${sayLine(item, values)}`)
            .join('\n'),
          html: `<${tag}${styles.list}>${block.items.map((item) => `<li>${show(item, values)}</li>`).join('')}</${tag}>`,
        }),
      };
    }
    case 'table': {
      const cell = (line: readonly Inline[], isHead: boolean, values: FieldValues): string =>
        isHead ? `<th${styles.headCell}>${show(line, values)}</th>` : `<td${styles.cell}>${show(line, values)}</td>`;
      return {
        ...aboutLines(block.rows.flat()),
        fill: (values) => ({
          text: block.rows.map((row) => row.map((line) => sayLine(line, values)).join(' | ')).join('\n'),
          html: `<table cellpadding="0" cellspacing="0"${styles.table}>${block.rows
            .map(
              (row, index) =>
                `<tr>${row.map((line) => cell(line, Boolean(block.hasHead) && index === 0, values)).join('')}</tr>`,
            )
            .join('')}</table>`,
        }),
      };
    }
    case 'columns':
      return inColumns(
        block.columns.map((column) => column.map((one) => prepareBlock(one, styles))),
        styles,
      );
    case 'button':
      return {
        ...aboutLines([[block.address]]),
        problems: problemsOfButton(block),
        fill(values) {
          const url = sayLine([block.address], values);
          // A field may be empty, and what was stored before it was checked may lead nowhere.
          if (!mayBePressed(url)) return { text: '', html: '' };
          const html = `<p style="margin:8px 0 16px">${pressHtml(url, block.label, styles.press)}</p>`;
          return { text: `${block.label}: ${url}`, html };
        },
      };
    case 'picture':
      return {
        problems: block.link && !mayBePressed(block.link) ? [leadsNowhere(block.link)] : [],
        fields: [],
        fill: (_values, { pictureUrl }) => showPicture(block, pictureUrl(block.digest), styles),
      };
    case 'event':
      return {
        ...noProblems,
        fields: ['event.when', 'event.repeats', 'event.place', 'event.joinLink'],
        fill: (values, about) => sayEvent(values, about, styles),
      };
    case 'calendar':
      return { ...noProblems, fields: ['link.ics'], fill: (values, about) => sayCalendars(values, about, styles) };
    case 'reply':
      return {
        ...noProblems,
        fields: ['link.reply'],
        fill: (values, about) => sayReply(values, about, styles, block.tone ?? 'plain'),
      };
    case 'places':
      return { ...noProblems, fields: [], fill: (_values, about) => sayPlaces(about, styles) };
    case 'coming':
      return { ...noProblems, fields: [], fill: (_values, about) => sayComing(block.events ?? [], about, styles) };
    case 'opening':
      return {
        ...noProblems,
        fields: ['person.firstName'],
        fill: (values, about) => sayOpening(values, about, styles, block.tone),
      };
    // Stands for other blocks, which took its place before; where they are gone, nothing is said.
    case 'house':
      return same({ text: '', html: '' });
    case 'entry': {
      const { title, url, about, lead } = block;
      const html = `<p style="margin:0 0 10px">${pressHtml(url, title, styles.link)}<br /><span${styles.quiet}>${escapeHtml(about)}</span></p>`;
      return same({ text: mayBePressed(url) ? `  ${lead}\n  ${url}` : `  ${lead}`, html });
    }
  }
}

const noProblems = { problems: [] } as const;

/** A block that says the same to everybody. */
const same = (said: Filled): PreparedBlock => ({ ...noProblems, fields: [], fill: () => said });

/** Blocks side by side: in plain text one after the other. */
function inColumns(columns: readonly (readonly PreparedBlock[])[], styles: Styles): PreparedBlock {
  const all = columns.flat();
  return {
    problems: all.flatMap(({ problems }) => problems),
    fields: all.flatMap(({ fields }) => fields),
    needed: all.flatMap(({ needed = [] }) => needed),
    fill(values, about) {
      const filled = columns
        .map((column) => column.map((one) => one.fill(values, about)).filter(saysSomething))
        .filter(({ length }) => length > 0);
      return {
        isSeen: filled.length > 0,
        text: filled
          .flat()
          .map(({ text }) => text)
          .filter(Boolean)
          .join('\n\n'),
        // No space between them: it would take room that two columns fill.
        html: filled.length
          ? `<div>${filled.map((column) => `<div${styles.column}>${column.map(({ html }) => html).join('')}</div>`).join('')}</div>`
          : '',
      };
    },
  };
}

export const saysSomething = ({ text, isSeen }: Filled): boolean => text !== '' || Boolean(isSeen);

/** As wide as a mail without its margins. */
const mostWide = 552;

function showPicture(picture: Extract<LeafBlock, { kind: 'picture' }>, url: string, styles: Styles): Filled {
  const { width, height, words, link } = picture;
  if (!url) return { html: '', text: '' };
  const shown = Math.min(width, mostWide);
  // Where pictures are off, the words stand in their place, large enough to be read.
  const image = `<img src="${escapeHtml(url)}" width="${shown}" height="${Math.round((height * shown) / width)}" alt="${escapeHtml(words)}"${styles.picture.replace('width:100%', `width:100%;max-width:${shown}px`)} />`;
  const leads = link && mayBePressed(link) ? link : '';
  return {
    html: `<p style="margin:8px 0 16px">${leads ? `<a href="${escapeHtml(leads)}">${image}</a>` : image}</p>`,
    text: [words && `[${words}]`, leads].filter(Boolean).join(' '),
    isSeen: true,
  };
}

const problemsOfButton = ({ label, address }: Extract<LeafBlock, { kind: 'button' }>): Problem[] => [
  ...(label.trim() === '' ? [{ code: 'no-press-words', path: 'body' } as const] : []),
  ...(address.kind === 'text' && !mayBePressed(address.text) ? [leadsNowhere(address.text)] : []),
  ...(address.kind === 'field' && !address.field.startsWith('link.') && address.field !== 'event.joinLink'
    ? [leadsNowhere(address.field)]
    : []),
];
