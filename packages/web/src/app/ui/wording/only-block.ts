import { Extension } from '@tiptap/core';
import { only as onlyShape } from '@convite/contract';
import { sayOnly, type Only } from '@convite/core';

/** For whom a block stands, as it is carried from one message into another; null for everybody. */
function readOnly(text: string): Only | null {
  try {
    return onlyShape.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

/** For whom a block can stand, in the order in which they are offered; `everybody` is no condition. */
export const offeredOnlys: readonly { readonly key: string; readonly only: Only | null; readonly says: string }[] = [
  { key: 'everybody', only: null, says: 'for everybody' },
  ...(
    [
      { kind: 'reply', replies: ['needs-action'] },
      { kind: 'reply', replies: ['accepted'] },
      { kind: 'reply', replies: ['accepted', 'tentative'] },
      { kind: 'reply', replies: ['declined'] },
      { kind: 'online' },
      { kind: 'in-place' },
      { kind: 'elsewhere' },
    ] satisfies readonly Only[]
  ).map((only: Only) => ({ key: JSON.stringify(only), only, says: sayOnly(only) })),
];

const blocks = [
  ...['paragraph', 'heading', 'blockquote', 'bulletList', 'orderedList', 'horizontalRule'],
  ...['aboutEvent', 'pressButton', 'pictureBlock', 'table', 'columns', 'htmlBlock'],
];

/** The same, with a topic of the house each. */
export const onlysWith = (topics: readonly string[]): typeof offeredOnlys => [
  ...offeredOnlys,
  ...topics.map((topic) => {
    const only: Only = { kind: 'topic', topic };
    return { key: JSON.stringify(only), only, says: sayOnly(only) };
  }),
];

/** Says of each block for whom it stands, beside it. */
export const OnlyBlock = Extension.create({
  name: 'onlyBlock',
  addGlobalAttributes: () => [
    {
      types: blocks,
      attributes: {
        only: {
          default: null,
          keepOnSplit: false,
          parseHTML: (element: HTMLElement) => readOnly(element.dataset['only'] ?? ''),
          renderHTML: ({ only }: { only?: Only | null }) =>
            only ? { 'data-only': JSON.stringify(only), 'data-only-says': sayOnly(only), title: sayOnly(only) } : {},
        },
      },
    },
  ],
});
