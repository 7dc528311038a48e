import { InputRule, Node } from '@tiptap/core';
import { mergeFields, readWording } from '@convite/core';
import { aboutKinds, aboutWords, type AboutKind } from './insertions';

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    wordingBlocks: {
      /** Puts a merge field where the cursor stands. */
      insertField: (field: string) => ReturnType;
    };
  }
}

/** A merge field in a line: one chip, which is taken out or carried along whole. Typed in braces it becomes one. */
export const MergeField = Node.create({
  name: 'mergeField',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({ field: { default: '' }, fallback: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-field]',
      getAttrs: (element) => ({ field: element.dataset['field'] ?? '', fallback: element.dataset['fallback'] ?? '' }),
    },
  ],
  renderHTML: ({ node }) => [
    'span',
    {
      'data-field': node.attrs['field'],
      'data-fallback': node.attrs['fallback'],
      class: 'field-chip',
      title: [
        Object.entries(mergeFields).find(([name]) => name === node.attrs['field'])?.[1] ?? '',
        node.attrs['fallback'] ? `“${node.attrs['fallback']}” where it is empty` : '',
      ]
        .filter(Boolean)
        .join('; '),
    },
    `${node.attrs['field']}${node.attrs['fallback'] ? ` | ${node.attrs['fallback']}` : ''}`,
  ],
  renderText: ({ node }) => `{{${node.attrs['field']}${node.attrs['fallback'] ? `|${node.attrs['fallback']}` : ''}}}`,
  addCommands() {
    return {
      insertField:
        (field) =>
        ({ commands }) =>
          commands.insertContent([{ type: 'mergeField', attrs: { field, fallback: '' } }]),
    };
  },
  addInputRules() {
    return [
      new InputRule({
        find: /\{\{[^{}]+\}\}$/,
        handler: ({ state, range, match }) => {
          const [node] = readWording(match[0], '').nodes;
          if (node && 'field' in node)
            state.tr.replaceWith(
              range.from,
              range.to,
              this.type.create({ field: node.field, fallback: node.fallback }),
            );
        },
      }),
    ];
  },
});

/** Of all that a block is drawn with, what says for whom it stands. */
const onlyMarks = (attributes: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(attributes).filter(([name]) => name.startsWith('data-only') || name === 'title'));

/** What says by itself what it says: when and where, add to a calendar, answers to press, a block of the house. */
export const AboutEvent = Node.create({
  name: 'aboutEvent',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({
    kind: { default: 'event' },
    tone: { default: 'plain' },
    days: { default: 30 },
    key: { default: '' },
    name: { default: '' },
  }),
  parseHTML: () => [
    {
      tag: 'div[data-about]',
      getAttrs: ({ dataset }) => ({
        kind: dataset['about'],
        tone: dataset['tone'] ?? 'plain',
        days: Number(dataset['days'] ?? 30),
        key: dataset['key'] ?? '',
        name: dataset['name'] ?? '',
      }),
    },
  ],
  renderHTML({ node: { attrs }, HTMLAttributes }) {
    const kind = aboutKinds.find((one) => one === attrs['kind']) ?? 'event';
    const { tone, days, key, name } = attrs;
    return [
      'div',
      {
        ...{ 'data-about': kind, 'data-tone': tone, 'data-days': days, 'data-key': key, 'data-name': name },
        class: 'about-block',
        ...onlyMarks(HTMLAttributes),
      },
      sayAbout(kind, attrs),
    ];
  },
});

function sayAbout(kind: AboutKind, { tone, days, name }: Readonly<Record<string, unknown>>): string {
  if (kind === 'house') return `${aboutWords.house}: ${String(name)}`;
  if (kind === 'coming') return `${aboutWords.coming}, within ${String(days)} days`;
  if (kind === 'opening' || (kind === 'reply' && tone !== 'plain')) return `${aboutWords[kind]}, ${String(tone)}`;
  return aboutWords[kind];
}

/** Something to press, with where it leads. */
export const PressButton = Node.create({
  name: 'pressButton',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ label: { default: '' }, address: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'div[data-press]',
      getAttrs: (element) => ({ label: element.textContent ?? '', address: element.dataset['press'] ?? '' }),
    },
  ],
  renderHTML: ({ node, HTMLAttributes }) => [
    'div',
    { class: 'press-block', 'data-press': String(HTMLAttributes['address']), ...onlyMarks(HTMLAttributes) },
    ['span', {}, String(node.attrs['label'] || 'Button without words')],
  ],
});

/** A picture of the house. What is pasted from elsewhere is none of them, and stays there. */
export const PictureBlock = Node.create({
  name: 'pictureBlock',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({
    digest: { default: '' },
    width: { default: 1 },
    height: { default: 1 },
    words: { default: '' },
    link: { default: '' },
  }),
  parseHTML: () => [
    {
      tag: 'img[data-digest]',
      getAttrs: (element) => ({
        digest: element.dataset['digest'] ?? '',
        width: Number(element.getAttribute('width')) || 1,
        height: Number(element.getAttribute('height')) || 1,
        words: element.getAttribute('alt') ?? '',
        link: element.dataset['link'] ?? '',
      }),
    },
  ],
  renderHTML: ({ node: { attrs }, HTMLAttributes }) => [
    'img',
    {
      src: `/picture/${attrs['digest']}`,
      alt: attrs['words'],
      width: attrs['width'],
      height: attrs['height'],
      'data-digest': attrs['digest'],
      'data-link': attrs['link'],
      class: 'picture-block',
      ...onlyMarks(HTMLAttributes),
    },
  ],
});

/** Markup of the house's own. What it says is seen beside the editor, where it is made harmless. */
export const HtmlBlock = Node.create({
  name: 'htmlBlock',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ html: { default: '' } }),
  parseHTML: () => [{ tag: 'pre[data-html]', getAttrs: (element) => ({ html: element.textContent ?? '' }) }],
  renderHTML: ({ node, HTMLAttributes }) => [
    'pre',
    { class: 'html-block', 'data-html': '', ...onlyMarks(HTMLAttributes) },
    String(node.attrs['html'] || 'HTML: write it below'),
  ],
});

/** An item is one paragraph: lists do not nest, and Tab leaves the editor as it leaves any field. */
export const ListItem = Node.create({
  name: 'listItem',
  content: 'paragraph',
  defining: true,
  parseHTML: () => [{ tag: 'li' }],
  renderHTML: ({ HTMLAttributes }) => ['li', HTMLAttributes, 0],
  addKeyboardShortcuts() {
    return { Enter: () => this.editor.commands.splitListItem(this.name) };
  },
});
