import { Extension } from '@tiptap/core';
import { NodeSelection, TextSelection, type EditorState, type Transaction } from '@tiptap/pm/state';

/** Moves the block in which the cursor stands past its neighbour. @returns null where there is none */
export function movedBlock(state: EditorState, by: -1 | 1): Transaction | null {
  const { $from } = state.selection;
  const index = $from.index(0);
  const other = index + by;
  if (other < 0 || other >= state.doc.childCount) return null;
  const [block, neighbour] = [state.doc.child(index), state.doc.child(other)];
  let from = 0;
  for (let at = 0; at < index; at += 1) from += state.doc.child(at).nodeSize;
  const within = state.selection.from - from;
  const tr = state.tr.delete(from, from + block.nodeSize);
  const to = by < 0 ? from - neighbour.nodeSize : from + neighbour.nodeSize;
  tr.insert(to, block);
  const selection =
    state.selection instanceof NodeSelection && $from.depth === 0
      ? NodeSelection.create(tr.doc, to)
      : TextSelection.near(tr.doc.resolve(to + Math.max(1, within)));
  return tr.setSelection(selection).scrollIntoView();
}

/** Alt with an arrow moves a block up or down. */
export const MoveBlock = Extension.create({
  name: 'moveBlock',
  addKeyboardShortcuts() {
    const move = (by: -1 | 1) => (): boolean => {
      const tr = movedBlock(this.editor.state, by);
      if (tr) this.editor.view.dispatch(tr);
      return true;
    };
    return { 'Alt-ArrowUp': move(-1), 'Alt-ArrowDown': move(1) };
  },
});
