import { Extension } from '@tiptap/core';
import { sayOnly, type Only } from '@convite/core';

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
  ...['aboutEvent', 'pressButton', 'pictureBlock', 'table', 'columns'],
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
          parseHTML: (element: HTMLElement) =>
            offeredOnlys.find(({ key }) => key === element.dataset['only'])?.only ?? null,
          renderHTML: ({ only }: { only?: Only | null }) =>
            only ? { 'data-only': JSON.stringify(only), 'data-only-says': sayOnly(only), title: sayOnly(only) } : {},
        },
      },
    },
  ],
});
