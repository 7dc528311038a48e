const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text made safe between tags and inside quoted attributes. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (mark) => entities[mark] ?? mark);

const linkStyle = 'color:#4A2545;font-weight:bold';

/** Plain text as HTML: blank lines part paragraphs, line breaks stay, web addresses become links. */
export function textToHtml(text: string): string {
  return text
    .trim()
    .split(/\n{2,}/)
    .map((paragraph) => `<p style="margin:0 0 16px">${linkAddresses(paragraph).replaceAll('\n', '<br />')}</p>`)
    .join('');
}

/** The same without links: what a stranger typed never becomes one. */
export const plainToHtml = (text: string): string =>
  `<p style="margin:0 0 16px;white-space:pre-line">${escapeHtml(text.trim()).replaceAll('\n', '<br />')}</p>`;

function linkAddresses(text: string): string {
  return text
    .split(/(https?:\/\/[^\s<>"]+[^\s<>".,;:!?)\]])/)
    .map((piece, index) =>
      index % 2
        ? `<a href="${escapeHtml(piece)}" style="${linkStyle}">${escapeHtml(shorten(piece))}</a>`
        : escapeHtml(piece),
    )
    .join('');
}

/** A long web-calendar address would fill the screen; its host and path say enough. */
const shorten = (url: string): string => (url.length > 70 ? `${url.slice(0, 60)}…` : url);
