import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
  ViewEncapsulation,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatAutocompleteModule, type MatAutocompleteSelectedEvent } from '@angular/material/autocomplete';
import { MatButtonModule } from '@angular/material/button';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { Editor, type JSONContent } from '@tiptap/core';
import { TextSelection } from '@tiptap/pm/state';
import { StarterKit } from '@tiptap/starter-kit';
import { only as onlyShape, type PictureRow } from '@convite/contract';
import { isSame, mayBePressed, sayOnly, type Block, type Only, type WordingDocument } from '@convite/core';
import { typed } from '../typed';
import { aboutKinds, offeredFor, type Insertion, type Offered, type Shape } from './insertions';
import { MoveBlock, movedBlock } from './move-block';
import { OnlyBlock, onlysWith } from './only-block';
import { AboutEvent, HtmlBlock, ListItem, MergeField, PictureBlock, PressButton } from './nodes';
import { PictureChooser } from './picture-chooser';
import { ReadSamples, SampleChips, samplesKey } from './samples';
import {
  Column,
  Columns,
  newColumns,
  newTable,
  Table,
  tableActs,
  TableCell,
  TableHeader,
  TableRoles,
  TableRow,
} from './side-by-side';
import { blocksOf, contentOf } from './to-blocks';
import { PickedPiece, type Picked } from './picked-piece';
import { WordingSource } from './wording-source';

/** The words of an email as they will stand: blocks and merge fields, put in by typing, by a chooser or by keys. */
@Component({
  selector: 'cv-rich-editor',
  imports: [MatAutocompleteModule, MatButtonModule, MatFormFieldModule, MatInputModule, PickedPiece, PictureChooser],
  changeDetection: ChangeDetectionStrategy.OnPush,
  encapsulation: ViewEncapsulation.None,
  template: `
    <div class="tools" role="toolbar" aria-label="Tools of the message">
      @for (mark of marks; track mark.name) {
        <button
          type="button"
          class="tool"
          [attr.aria-pressed]="isActive(mark.name)"
          [title]="mark.keys"
          (click)="toggle(mark.name)"
        >
          {{ mark.label }}
        </button>
      }
      <button type="button" class="tool" [attr.aria-pressed]="isActive('link')" (click)="startLink()">Link</button>
      <button type="button" class="tool" [disabled]="!can('undo')" (click)="editor()?.chain()?.focus()?.undo()?.run()">
        Undo
      </button>
      <button type="button" class="tool" [disabled]="!can('redo')" (click)="editor()?.chain()?.focus()?.redo()?.run()">
        Redo
      </button>
      <button type="button" class="tool" title="Alt and arrow up" (click)="move(-1)">Up</button>
      <button type="button" class="tool" title="Alt and arrow down" (click)="move(1)">Down</button>
      @if (ofEvent()) {
        <label class="tool for"
          ><span class="visually-hidden">This block stands</span>
          <select [value]="onlyKey()" (change)="setOnly(typed($event))">
            @for (one of offeredOnlys(); track one.key) {
              <option [value]="one.key" [selected]="one.key === onlyKey()">{{ one.says }}</option>
            }
          </select></label
        >
      }
      <mat-form-field class="put" subscriptSizing="dynamic">
        <mat-label>Put in a field or a block</mat-label>
        <input
          matInput
          #put
          autocomplete="off"
          placeholder="Ctrl and full stop, then its name"
          [matAutocomplete]="offers"
          [value]="name()"
          (input)="name.set(typed($event))"
        />
        <mat-autocomplete #offers="matAutocomplete" autoActiveFirstOption (optionSelected)="choose($event)">
          @for (one of offered(); track one.name) {
            <mat-option [value]="one.name"
              >{{ one.name }} <span class="quiet small">{{ one.says }}</span></mat-option
            >
          }
        </mat-autocomplete>
      </mat-form-field>
    </div>
    @if (isActive('table')) {
      <div class="tools" role="toolbar" aria-label="Tools of the table">
        @for (one of tableActs; track one.name) {
          <button type="button" class="tool" (click)="inTable(one.act)">{{ one.name }}</button>
        }
      </div>
    }
    @if (isChoosingPicture()) {
      <cv-picture-chooser (chosen)="putPicture($event)" (closed)="isChoosingPicture.set(false); focus()" />
    }
    <div #host class="paper"></div>
    @if (picked(); as it) {
      <cv-picked-piece [piece]="it" (changed)="change($event)" (gone)="takeOut()" (closed)="focus()" />
    }
  `,
  styleUrl: './rich-editor.scss',
})
export class RichEditor {
  protected readonly typed = typed;
  protected readonly marks = [
    { name: 'bold', label: 'Bold', keys: 'Ctrl B' },
    { name: 'italic', label: 'Italic', keys: 'Ctrl I' },
  ] as const;
  readonly wording = input.required<WordingDocument>();
  readonly label = input('Message');
  /** Fields and blocks of an event are offered. */
  readonly ofEvent = input(true);
  readonly blocks = output<readonly Block[]>();

  private readonly host = viewChild.required<ElementRef<HTMLElement>>('host');
  private readonly put = viewChild.required<ElementRef<HTMLInputElement>>('put');
  protected readonly editor = signal<Editor | null>(null);
  /** Counts what happened in the editor, which knows no signals. */
  private readonly happened = signal(0);
  protected readonly name = signal('');
  private readonly source = inject(WordingSource);
  private readonly houseBlocks = toSignal(this.source.houseBlocks(), { initialValue: [] });
  protected readonly offered = computed(() => offeredFor(this.name(), this.ofEvent(), this.houseBlocks()));
  private readonly isLinking = signal(false);
  protected readonly isChoosingPicture = signal(false);
  /** What the cursor stands on, that has something to be said about. */
  protected readonly picked = computed((): Picked | null => {
    this.happened();
    const editor = this.editor();
    if (!editor) return null;
    const attrs = (name: string): Record<string, unknown> => editor.getAttributes(name);
    const said = (value: unknown): string => (typeof value === 'string' ? value : '');
    if (editor.isActive('pressButton')) {
      const { label, address } = attrs('pressButton');
      return { kind: 'button', label: said(label), address: said(address) };
    }
    if (editor.isActive('htmlBlock')) return { kind: 'html', html: said(attrs('htmlBlock')['html']) };
    if (editor.isActive('pictureBlock')) {
      const { words, link } = attrs('pictureBlock');
      return { kind: 'picture', words: said(words), link: said(link) };
    }
    if (editor.isActive('aboutEvent')) {
      const { kind, tone, days, key } = attrs('aboutEvent');
      const about = aboutKinds.find((one) => one === kind);
      if (about) return { kind: 'about', about, tone: said(tone), days: Number(days), key: said(key) };
    }
    if (editor.isActive('mergeField')) {
      const { field, fallback } = attrs('mergeField');
      return { kind: 'field', field: said(field), fallback: said(fallback) };
    }
    if (editor.isActive('link') || this.isLinking()) return { kind: 'link', address: said(attrs('link')['href']) };
    return null;
  });
  /** What was told last, so that it is not taken for somebody else's. */
  private told: readonly Block[] | null = null;

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const editor = new Editor({
        element: this.host().nativeElement,
        injectCSS: false,
        extensions: [
          StarterKit.configure({
            heading: { levels: [2] },
            listItem: false,
            code: false,
            codeBlock: false,
            strike: false,
            underline: false,
            link: { openOnClick: false, autolink: true, defaultProtocol: 'https', protocols: ['mailto', 'tel'] },
          }),
          ListItem,
          MergeField,
          AboutEvent,
          ...[Table, TableRow, TableCell, TableHeader, TableRoles, Columns, Column, SampleChips],
          HtmlBlock,
          PictureBlock,
          PressButton,
          MoveBlock,
          OnlyBlock,
        ],
        content: contentOf(untracked(this.wording)),
        editorProps: {
          attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': untracked(this.label), dir: 'auto' },
          handleKeyDown: (_view, event) => {
            if (!(event.ctrlKey || event.metaKey) || event.key !== '.') return false;
            this.put().nativeElement.focus();
            return true;
          },
        },
        onUpdate: () => this.tell(),
        onTransaction: () => this.happened.update((count) => count + 1),
        onSelectionUpdate: () => this.isLinking.set(false),
      });
      // Until somebody says where, what is put in stands behind the rest.
      editor.commands.setTextSelection(editor.state.doc.content.size);
      this.editor.set(editor);
      destroyed.onDestroy(() => editor.destroy());
    });
    // Chips say what they say to whoever the message is read as.
    const samples = inject(ReadSamples);
    effect(() => {
      const values = samples.values();
      const editor = this.editor();
      if (editor) editor.view.dispatch(editor.state.tr.setMeta(samplesKey, values).setMeta('addToHistory', false));
    });
    // Somebody else's words, or those that stand after a discard, take the place of what is shown.
    effect(() => {
      const wording = this.wording();
      const editor = this.editor();
      if (!editor || (this.told !== null && isSame(this.told, wording.blocks))) return;
      if (isSame(blocksOf(editor.getJSON()), blocksOf(contentOf(wording)))) return;
      editor.commands.setContent(contentOf(wording), { emitUpdate: false });
    });
  }

  /** For whom the block stands in which the cursor is. */
  private readonly only = computed((): { readonly key: string; readonly only: Only | null } => {
    this.happened();
    const { state } = this.editor() ?? {};
    const found = onlyShape.safeParse(state?.doc.maybeChild(state.selection.$from.index(0))?.attrs['only']);
    return found.success ? { key: JSON.stringify(found.data), only: found.data } : { key: 'everybody', only: null };
  });
  protected readonly onlyKey = computed(() => this.only().key);
  private readonly topics = toSignal(this.source.topics(), { initialValue: [] });
  /** What the block stands under is offered, also where its topic is no more. */
  protected readonly offeredOnlys = computed(() => {
    const { key, only } = this.only();
    const offered = onlysWith(this.topics());
    return only === null || offered.some((one) => one.key === key)
      ? offered
      : [...offered, { key, only, says: sayOnly(only) }];
  });
  protected setOnly(key: string): void {
    const editor = this.editor();
    if (!editor) return;
    const { state, view } = editor;
    const index = state.selection.$from.index(0);
    let at = 0;
    for (let before = 0; before < index; before += 1) at += state.doc.child(before).nodeSize;
    const only = this.offeredOnlys().find((one) => one.key === key)?.only ?? null;
    if (state.doc.maybeChild(index)) view.dispatch(state.tr.setNodeAttribute(at, 'only', only));
    editor.commands.focus();
  }

  protected isActive(name: string): boolean {
    this.happened();
    return this.editor()?.isActive(name) ?? false;
  }
  protected can(what: 'undo' | 'redo'): boolean {
    this.happened();
    return this.editor()?.can()[what]() ?? false;
  }
  protected toggle(name: 'bold' | 'italic'): void {
    const chain = this.editor()?.chain().focus();
    (name === 'bold' ? chain?.toggleBold() : chain?.toggleItalic())?.run();
  }
  protected readonly tableActs = tableActs;
  protected inTable(act: (typeof tableActs)[number]['act']): void {
    const editor = this.editor();
    if (editor) act(editor.state, editor.view.dispatch);
    editor?.commands.focus();
  }
  protected move(by: -1 | 1): void {
    const editor = this.editor();
    const tr = editor && movedBlock(editor.state, by);
    if (tr) editor.view.dispatch(tr);
    editor?.commands.focus();
  }
  protected startLink(): void {
    this.isLinking.set(true);
  }

  protected choose(event: MatAutocompleteSelectedEvent): void {
    const chosen: Offered | undefined = this.offered().find(({ name }) => name === event.option.value);
    this.name.set('');
    this.put().nativeElement.value = '';
    if (chosen) this.insert(chosen.insertion);
  }
  private insert(insertion: Insertion): void {
    const chain = this.editor()?.chain().focus();
    if (!chain) return;
    if (insertion.kind === 'field') chain.insertField(insertion.field).run();
    else if (insertion.kind === 'about')
      this.putBlock({ type: 'aboutEvent', attrs: { kind: insertion.about, ...insertion.block } });
    else this.shape(insertion.shape);
  }
  private shape(shape: Shape): void {
    const chain = this.editor()?.chain().focus();
    if (!chain) return;
    switch (shape) {
      case 'heading':
        return void chain.toggleHeading({ level: 2 }).run();
      case 'list':
        return void chain.toggleBulletList().run();
      case 'numbers':
        return void chain.toggleOrderedList().run();
      case 'quote':
        return void chain.toggleBlockquote().run();
      case 'divider':
        return void chain.setHorizontalRule().run();
      case 'columns':
        return this.putBlock(newColumns);
      case 'table':
        return this.putBlock(newTable);
      case 'html':
        return this.putBlock({ type: 'htmlBlock', attrs: { html: '' } });
      case 'picture':
        return this.isChoosingPicture.set(true);
      case 'button':
        return this.putBlock(
          { type: 'pressButton', attrs: { label: '', address: this.ofEvent() ? '{{link.event}}' : '' } },
          'fits a column',
        );
    }
  }

  /**
   * Puts a block in where the cursor stands, or behind the table or the columns around it, where it does not fit into them. What
   * is written into is written into where it begins.
   */
  private putBlock(content: JSONContent, fits: 'fits a column' | '' = ''): void {
    const editor = this.editor();
    if (!editor) return;
    const { $from, from } = editor.state.selection;
    const around = $from.depth > 0 ? $from.node(1).type.name : '';
    const isOutside = around === 'table' || (around === 'columns' && !fits);
    const at = isOutside ? $from.after(1) : from;
    const chain = editor.chain().focus();
    (isOutside ? chain.insertContentAt(at, content) : chain.insertContent(content)).run();
    const { state, view } = editor;
    if (content.content)
      view.dispatch(
        state.tr.setSelection(TextSelection.near(state.doc.resolve(Math.min(at + 1, state.doc.content.size)))),
      );
  }
  protected putPicture({ digest, width, height, words }: PictureRow): void {
    this.isChoosingPicture.set(false);
    this.putBlock({ type: 'pictureBlock', attrs: { digest, width, height, words } }, 'fits a column');
  }

  /** What was typed about what the cursor stands on. */
  protected change(piece: Picked): void {
    const chain = this.editor()?.chain();
    if (!chain) return;
    if (piece.kind === 'button')
      chain.updateAttributes('pressButton', { label: piece.label, address: piece.address }).run();
    else if (piece.kind === 'picture')
      chain.updateAttributes('pictureBlock', { words: piece.words, link: piece.link.trim() }).run();
    else if (piece.kind === 'html') chain.updateAttributes('htmlBlock', { html: piece.html }).run();
    else if (piece.kind === 'about') chain.updateAttributes('aboutEvent', { tone: piece.tone, days: piece.days }).run();
    else if (piece.kind === 'field')
      chain.updateAttributes('mergeField', { field: piece.field, fallback: piece.fallback }).run();
    else this.link(piece.address.trim());
  }
  /** Where nothing is selected, the address itself is written down. */
  private link(typedAddress: string): void {
    const editor = this.editor();
    if (!editor || typedAddress === '') return;
    const href = mayBePressed(typedAddress) ? typedAddress : `https://${typedAddress}`;
    const isNew = editor.state.selection.empty && !editor.isActive('link');
    if (isNew)
      editor
        .chain()
        .insertContent([{ type: 'text', text: href, marks: [{ type: 'link', attrs: { href } }] }])
        .run();
    else editor.chain().extendMarkRange('link').setLink({ href }).run();
  }
  protected takeOut(): void {
    this.isLinking.set(false);
    if (this.editor()?.isActive('link')) this.editor()?.chain().focus().extendMarkRange('link').unsetLink().run();
    else this.editor()?.chain().focus().deleteSelection().run();
  }
  protected focus(): void {
    this.isLinking.set(false);
    this.editor()?.commands.focus();
  }

  private tell(): void {
    const editor = this.editor();
    if (!editor) return;
    this.told = blocksOf(editor.getJSON());
    this.blocks.emit(this.told);
  }
}
