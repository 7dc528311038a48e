import mjml2html from 'mjml';
import { designs, faceFamilies, paletteOf, type Design, type Face, type Palette } from '@convite/core';
import { layouts } from './designs/layouts';
import { nightStyles } from './designs/night';

export type FrameSlots = Readonly<
  Record<
    | 'language'
    | 'title'
    | 'preheader'
    | 'house'
    | 'header'
    | 'day'
    | 'facts'
    | 'body'
    | 'signature'
    | 'footer'
    | 'postal'
    | 'optOut',
    string
  >
>;
export type Frame = (slots: FrameSlots) => string;

/** How a mail is laid out, and in whose colour and letters. */
export interface FrameLook {
  readonly design: Design;
  /** `#rrggbb`. */
  readonly colour: string;
  readonly face: Face;
}
/** The slots take HTML: whoever fills them has escaped what came from people. */
export type Frames = (look: FrameLook) => Frame;

/** So many looks are kept made ready: six designs, as a house tries out its colours. */
const mostKept = 60;

/** Compiles every design. mjml takes milliseconds, so it runs once; a house's look is put in once, people one after the other. */
export async function loadFrames(): Promise<Frames> {
  const compiled = new Map<Design, string>();
  for (const design of designs) compiled.set(design, await compile(layouts[design]));
  const ready = new Map<string, Frame>();
  return ({ design, colour, face }) => {
    const key = `${design} ${colour} ${face}`;
    let frame = ready.get(key);
    if (!frame) {
      if (ready.size >= mostKept) ready.clear();
      ready.set(key, (frame = frameOf(dressed(compiled.get(design) ?? '', colour, face))));
    }
    return frame;
  };
}

async function compile(layout: string): Promise<string> {
  const { html } = await mjml2html(
    inMarks(`<mjml lang="@@language@@">
  <mj-head>
    <mj-title>@@title@@</mj-title>
    <mj-attributes>
      <mj-all font-family="HouseFace" />
      <mj-text font-size="16px" line-height="1.55" color="INK" padding="0 24px" />
    </mj-attributes>
    <mj-raw><meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"></mj-raw>
    <mj-style>h1 { font: inherit; color: inherit; letter-spacing: inherit; margin: 0; }
table { table-layout: fixed; }
@media (prefers-color-scheme: dark) { NightStyles }</mj-style>
  </mj-head>
  <mj-body css-class="cv-paper" background-color="PAPER" width="600px">${layout}</mj-body>
</mjml>`),
    { validationLevel: 'strict' },
  );
  return html;
}

/** Names of colours in a layout, each with a colour that stands for it while mjml reads it: nobody has it for a colour. */
const marks: readonly (readonly [name: string, key: keyof Palette, mark: string])[] = [
  ['ON_PRESS', 'onPress', '#0a0c01'],
  ['PAPER', 'paper', '#0a0c02'],
  ['SHEET', 'sheet', '#0a0c03'],
  ['QUIET', 'quiet', '#0a0c04'],
  ['PRESS', 'press', '#0a0c05'],
  ['LINE', 'line', '#0a0c06'],
  ['LEAD', 'lead', '#0a0c07'],
  ['INK', 'ink', '#0a0c08'],
];

const inMarks = (layout: string): string =>
  marks.reduce((text, [name, , mark]) => text.replace(new RegExp(`\\b${name}\\b`, 'g'), mark), layout);

function dressed(html: string, colour: string, face: Face): string {
  const { day, night } = paletteOf(colour);
  // A mail is not read by its indentation, and everybody gets it.
  const close = html.replace(/^\s+/gm, '');
  const coloured = marks.reduce((text, [, key, mark]) => text.replaceAll(mark, day[key]), close);
  return coloured.replaceAll('HouseFace', faceFamilies[face]).replace('NightStyles', () => nightStyles(night));
}

function frameOf(html: string): Frame {
  const pieces = html.split(/@@(\w+)@@/);
  return (values) => {
    let out = '';
    pieces.forEach((piece, index) => {
      out += index % 2 ? values[piece as keyof FrameSlots] : piece;
    });
    return out;
  };
}
