import { Extension, Node } from '@tiptap/core';
import {
  addColumnAfter,
  addRowAfter,
  deleteColumn,
  deleteRow,
  deleteTable,
  goToNextCell,
  tableEditing,
  toggleHeaderRow,
} from '@tiptap/pm/tables';

/** A small table. Its rows and cells are edited by a library that ships with the editor, which knows them by their roles. */
export const Table = Node.create({
  name: 'table',
  group: 'block',
  content: 'tableRow+',
  isolating: true,
  parseHTML: () => [{ tag: 'table' }],
  renderHTML: ({ HTMLAttributes }) => ['table', HTMLAttributes, ['tbody', 0]],
  addKeyboardShortcuts() {
    const go = (by: -1 | 1) => (): boolean => goToNextCell(by)(this.editor.state, this.editor.view.dispatch);
    return { Tab: go(1), 'Shift-Tab': go(-1) };
  },
});
export const TableRow = Node.create({
  name: 'tableRow',
  content: '(tableCell | tableHeader)+',
  parseHTML: () => [{ tag: 'tr' }],
  renderHTML: ({ HTMLAttributes }) => ['tr', HTMLAttributes, 0],
});
/** The library asks for these; cells here never span. */
const spans = () => ({ colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } });
export const TableCell = Node.create({
  name: 'tableCell',
  content: 'paragraph',
  isolating: true,
  addAttributes: spans,
  parseHTML: () => [{ tag: 'td' }],
  renderHTML: () => ['td', 0],
});
export const TableHeader = Node.create({
  name: 'tableHeader',
  content: 'paragraph',
  isolating: true,
  addAttributes: spans,
  parseHTML: () => [{ tag: 'th' }],
  renderHTML: () => ['th', 0],
});
const roles: Readonly<Record<string, string>> = {
  table: 'table',
  tableRow: 'row',
  tableCell: 'cell',
  tableHeader: 'header_cell',
};
export const TableRoles = Extension.create({
  name: 'tableRoles',
  extendNodeSchema: ({ name }) => (roles[name] ? { tableRole: roles[name] } : {}),
  addProseMirrorPlugins: () => [tableEditing()],
});

/** What can be done with a table, as the buttons say it. */
export const tableActs = [
  { name: 'Row below', act: addRowAfter },
  { name: 'Column beside', act: addColumnAfter },
  { name: 'Take the row out', act: deleteRow },
  { name: 'Take the column out', act: deleteColumn },
  { name: 'First row is a head', act: toggleHeaderRow },
  { name: 'Take the table out', act: deleteTable },
] as const;

const cell = (type: 'tableCell' | 'tableHeader') => ({ type, content: [{ type: 'paragraph' }] });
/** As it is put in: a head and a row, of two columns. */
export const newTable = {
  type: 'table',
  content: (['tableHeader', 'tableCell'] as const).map((type) => ({
    type: 'tableRow',
    content: [cell(type), cell(type)],
  })),
};

/** Two columns, which stand one below the other where there is no room. */
export const Columns = Node.create({
  name: 'columns',
  group: 'block',
  content: 'column column',
  isolating: true,
  parseHTML: () => [{ tag: 'div[data-columns]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', { ...HTMLAttributes, 'data-columns': '', class: 'columns-block' }, 0],
});
export const Column = Node.create({
  name: 'column',
  content:
    '(paragraph | heading | bulletList | orderedList | blockquote | horizontalRule | pressButton | pictureBlock)+',
  isolating: true,
  parseHTML: () => [{ tag: 'div[data-column]' }],
  renderHTML: () => ['div', { 'data-column': '' }, 0],
});
export const newColumns = {
  type: 'columns',
  content: [1, 2].map(() => ({ type: 'column', content: [{ type: 'paragraph' }] })),
};
