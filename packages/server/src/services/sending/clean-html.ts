import { convert } from 'html-to-text';
import sanitize from 'sanitize-html';
import { mayBePressed, mergeFields, type Block } from '@convite/core';

/** Fields that lead somewhere: only they may stand where an address does. */
const isAddressField = (name: string): boolean =>
  Object.hasOwn(mergeFields, name) && (name.startsWith('link.') || name === 'event.joinLink');
const onlyField = /^\{\{\s*([\w.]{1,60})\s*\}\}$/;

/** An address as it may stand in a mail: typed whole, or one field that leads somewhere. */
function mayLead(address: string): boolean {
  const [, field] = onlyField.exec(address.trim()) ?? [];
  if (field !== undefined) return isAddressField(field);
  return !address.includes('{{') && mayBePressed(address.trim());
}

/** No value that fetches anything, or that ends where it should not. */
const plainValue = [/^[^;{}()<>"\\]{1,200}$/, /^rgba?\([\d.,%\s/]{1,60}\)$/];
const styles = [
  ...['color', 'background-color', 'font-size', 'font-weight', 'font-style', 'font-family', 'line-height'],
  ...['text-align', 'text-decoration', 'vertical-align', 'letter-spacing', 'white-space', 'display', 'width'],
  ...['max-width', 'height', 'margin', 'margin-top', 'margin-right', 'margin-bottom', 'margin-left', 'padding'],
  ...['padding-top', 'padding-right', 'padding-bottom', 'padding-left', 'border', 'border-top', 'border-right'],
  ...['border-bottom', 'border-left', 'border-radius', 'border-collapse', 'list-style-type'],
];

/** Characters of markup of which the plain text is made. */
const mostConverted = 200_000;

const options: sanitize.IOptions = {
  allowedTags: [
    ...[
      'h1',
      'h2',
      'h3',
      'h4',
      'p',
      'div',
      'span',
      'br',
      'hr',
      'blockquote',
      'pre',
      'code',
      'ul',
      'ol',
      'li',
      'b',
      'i',
    ],
    ...[
      'strong',
      'em',
      'u',
      's',
      'small',
      'sub',
      'sup',
      'a',
      'img',
      'center',
      'table',
      'thead',
      'tbody',
      'tfoot',
      'tr',
    ],
    ...['td', 'th', 'caption'],
  ],
  allowedAttributes: {
    '*': ['style', 'align', 'dir', 'lang', 'title'],
    a: ['href'],
    img: ['src', 'alt', 'width', 'height'],
    table: ['width', 'cellpadding', 'cellspacing', 'border', 'role'],
    td: ['colspan', 'rowspan', 'width', 'valign'],
    th: ['colspan', 'rowspan', 'width', 'valign', 'scope'],
  },
  allowedStyles: { '*': Object.fromEntries(styles.map((name) => [name, plainValue])) },
  // Addresses are judged below, since a field may stand for one.
  allowedSchemesAppliedToAttributes: [],
  nestingLimit: 60,
  exclusiveFilter: ({ tag, attribs }) => tag === 'img' && !attribs['src'],
  transformTags: {
    a: (tagName, { href, ...attribs }) => ({
      tagName,
      attribs: href && mayLead(href) ? { ...attribs, href: href.trim() } : attribs,
    }),
    img: (tagName, { src, ...attribs }) => ({
      tagName,
      attribs:
        src && /^https?:\/\/\S+$/i.test(src.trim()) && !src.includes('{{') ? { ...attribs, src: src.trim() } : attribs,
    }),
  },
};

/**
 * Markup of the house's own made harmless: words and their looks stay; what runs, frames, forms or fetches is left out, and so is
 * a field where an address stands, unless it leads somewhere. Beside it what it says in plain text.
 */
export function cleanHtml(block: Extract<Block, { kind: 'html' }>): Block {
  const html = sanitize(block.html, options);
  const text = convert(html.slice(0, mostConverted), {
    wordwrap: false,
    limits: { maxInputLength: mostConverted, maxDepth: 60, ellipsis: '' },
    selectors: [
      { selector: 'a', options: { hideLinkHrefIfSameAsText: true } },
      { selector: 'img', format: 'skip' },
      ...['h1', 'h2', 'h3', 'h4'].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  });
  return { ...block, html, text };
}
