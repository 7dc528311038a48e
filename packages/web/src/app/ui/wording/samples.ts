import { Injectable, signal } from '@angular/core';
import { Extension } from '@tiptap/core';
import { Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';

/** What the fields of the message say to the person as whom it is read beside the editor. */
@Injectable({ providedIn: 'root' })
export class ReadSamples {
  readonly values = signal<Readonly<Record<string, string>>>({});
}

const key = new PluginKey<DecorationSet>('samples');
const longest = 40;

/** Says in each chip what its field says to that person. */
export const SampleChips = Extension.create({
  name: 'sampleChips',
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (tr, before) => {
          const samples: unknown = tr.getMeta(key);
          if (!isSamples(samples)) return before.map(tr.mapping, tr.doc);
          const found: Decoration[] = [];
          tr.doc.descendants((node, at) => {
            const said = node.type.name === 'mergeField' ? samples[String(node.attrs['field'])] : undefined;
            if (said === undefined) return;
            const short = said.length > longest ? `${said.slice(0, longest)}…` : said;
            found.push(Decoration.node(at, at + node.nodeSize, { 'data-sample': short || 'nothing' }));
          });
          return DecorationSet.create(tr.doc, found);
        },
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
});
export const samplesKey = key;

const isSamples = (value: unknown): value is Readonly<Record<string, string>> =>
  typeof value === 'object' && value !== null;
