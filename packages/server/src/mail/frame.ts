import mjml2html from 'mjml';

/** The layout that every email stands in. mjml takes milliseconds, so it runs once; people are filled in afterwards. */
const layout = `
<mjml lang="en">
  <mj-head>
    <mj-title>@@title@@</mj-title>
    <mj-attributes>
      <mj-all font-family="Georgia, 'Times New Roman', serif" />
      <mj-text font-size="16px" line-height="1.55" color="#1D2433" padding="0 24px" />
    </mj-attributes>
  </mj-head>
  <mj-body background-color="#FBF8F3" width="600px">
    <mj-raw><div style="display:none;max-height:0;overflow:hidden;font-size:1px;line-height:1px;color:#1D2433">@@preheader@@</div></mj-raw>
    <mj-section padding="28px 0 8px">
      <mj-column>
        <mj-text font-size="14px" color="#4A2545" letter-spacing="0.04em">@@organisation@@</mj-text>
        <mj-divider border-width="1px" border-color="#E3DCD0" padding="12px 24px 4px" />
      </mj-column>
    </mj-section>
    <mj-section padding="8px 0 20px">
      <mj-column>
        <mj-text><h1 style="margin:0 0 16px;font-size:22px;line-height:1.3;font-weight:normal;color:#4A2545">@@title@@</h1></mj-text>
        <mj-text>@@body@@</mj-text>
      </mj-column>
    </mj-section>
    <mj-section padding="0 0 28px">
      <mj-column>
        <mj-divider border-width="1px" border-color="#E3DCD0" padding="4px 24px 12px" />
        <mj-text font-size="13px" color="#5A5F6B">@@postal@@@@optOut@@</mj-text>
      </mj-column>
    </mj-section>
  </mj-body>
</mjml>`;

export type FrameSlots = Readonly<
  Record<'title' | 'preheader' | 'organisation' | 'body' | 'postal' | 'optOut', string>
>;
export type Frame = (slots: FrameSlots) => string;

/** Compiles the layout. The slots take HTML: whoever fills them has escaped what came from people. */
export async function loadFrame(): Promise<Frame> {
  const { html } = await mjml2html(layout, { validationLevel: 'strict' });
  const pieces = html.split(/@@(\w+)@@/);
  return (values) => {
    let out = '';
    pieces.forEach((piece, index) => {
      out += index % 2 ? values[piece as keyof FrameSlots] : piece;
    });
    return out;
  };
}
