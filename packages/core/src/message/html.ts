import type { Styles } from './styles';

const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text made safe between tags and inside quoted attributes. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (mark) => entities[mark] ?? mark);

/** How running text looks where it is shown. */
export interface Dress {
  /** Attributes of each element, with a space before them. */
  readonly paragraph: string;
  readonly link: string;
  readonly lineBreak: string;
  /** Web addresses become links; never in what a stranger wrote. */
  readonly linksAddresses: boolean;
  /** Lines that begin with `- ` are a list, and `*words*` are bold. */
  readonly hasLists: boolean;
  /** A longer address is shown by its beginning. */
  readonly longestAddress: number;
}

/** In mail, which knows no style sheets. */
export const mailDressOf = ({ paragraph, link }: Pick<Styles, 'paragraph' | 'link'>): Dress => ({
  paragraph,
  link,
  lineBreak: '<br />',
  linksAddresses: true,
  hasLists: false,
  longestAddress: 70,
});

/** What a stranger wrote, in mail. */
export const quotedDressOf = (styles: Pick<Styles, 'paragraph' | 'link'>): Dress => ({
  ...mailDressOf(styles),
  linksAddresses: false,
});

/** The little HTML that calendars show. */
export const calendarDress: Dress = {
  paragraph: '',
  link: '',
  lineBreak: '<br>',
  linksAddresses: true,
  hasLists: true,
  longestAddress: Infinity,
};

/** Plain text as HTML: blank lines part paragraphs, line breaks stay. Everything is escaped, so no markup comes from data. */
export function textToHtml(text: string, dress: Dress): string {
  return text
    .trim()
    .split(/\n{2,}/)
    .map((block) => {
      const lines = block.split('\n');
      if (dress.hasLists && lines.every((line) => line.startsWith('- ')))
        return `<ul>${lines.map((line) => `<li>${lineToHtml(line.slice(2), dress)}</li>`).join('')}</ul>`;
      return `<p${dress.paragraph}>${lines.map((line) => lineToHtml(line, dress)).join(dress.lineBreak)}</p>`;
    })
    .join('');
}

/** Splits a line at web addresses: every second piece is one. */
export const webAddress = /(https?:\/\/[^\s<>"]+[^\s<>".,;:!?)\]])/;

/** What may be pressed: web addresses, mail and telephone; nothing that runs. */
export const mayBePressed = (address: string): boolean => /^(?:https?:\/\/|mailto:|tel:)\S+$/i.test(address);

/** One line of it. */
export function lineToHtml(line: string, dress: Dress): string {
  if (!dress.linksAddresses) return escapeHtml(line);
  return line
    .split(webAddress)
    .map((piece, index) => {
      if (index % 2) return linkToHtml(piece, shorten(piece, dress.longestAddress), dress);
      return dress.hasLists ? escapeHtml(piece).replace(bold, '$1<b>$2</b>') : escapeHtml(piece);
    })
    .join('');
}

export const linkToHtml = (url: string, shown: string, { link }: Dress): string =>
  mayBePressed(url) ? `<a href="${escapeHtml(url)}"${link}>${escapeHtml(shown)}</a>` : escapeHtml(shown);

const bold = /(^|[\s(])\*([^\s*][^*]*)\*(?=$|[\s).,;:!?])/g;

/** A long web-calendar address would fill the screen; its host and path say enough. */
const shorten = (url: string, longest: number): string => (url.length > longest ? `${url.slice(0, 60)}…` : url);
