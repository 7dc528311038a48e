import type { Design } from '@convite/core';

/** The line that mail programs show beside the subject; on the page itself it is not seen. */
const preheader = `<mj-raw><div style="display:none;max-height:0;overflow:hidden">@@preheader@@</div></mj-raw>`;

/** What stands below every message, whatever its design: the house's line, its postal address, and the way out. */
const below = (align: 'left' | 'center'): string => `
    <mj-section padding="0 0 28px">
      <mj-column>
        <mj-text css-class="cv-small" align="${align}" font-size="13px" color="QUIET">@@footer@@@@postal@@@@optOut@@</mj-text>
      </mj-column>
    </mj-section>`;

const rule = '<mj-divider css-class="cv-line" border-width="1px" border-color="LINE" padding="12px 24px 8px" />';
const words = '<mj-text css-class="cv-words">@@body@@@@signature@@</mj-text>';

/** A sheet of good paper: the house above, a line, and what it has to say. */
const letter = `
    ${preheader}
    <mj-section padding="28px 0 4px">
      <mj-column>
        <mj-text css-class="cv-head" font-size="14px" color="LEAD" letter-spacing="0.04em">@@house@@@@header@@</mj-text>
        ${rule}
      </mj-column>
    </mj-section>
    <mj-section padding="8px 0 20px">
      <mj-column>
        <mj-text css-class="cv-head" color="LEAD" font-size="24px" line-height="1.3" padding="0 24px 16px"><h1>@@title@@</h1></mj-text>
        ${words}
        ${rule}
      </mj-column>
    </mj-section>
    ${below('left')}`;

/** The programme of an evening: everything about a middle axis, between two pairs of lines. */
const programme = `
    ${preheader}
    <mj-section padding="36px 0 0">
      <mj-column>
        <mj-text css-class="cv-head" align="center" font-size="14px" color="LEAD" letter-spacing="0.22em">@@house@@@@header@@</mj-text>
        <mj-divider css-class="cv-line" border-width="3px" border-style="double" border-color="LEAD" width="160px" padding="18px 24px 4px" />
      </mj-column>
    </mj-section>
    <mj-section padding="14px 0 20px">
      <mj-column>
        <mj-text css-class="cv-head" align="center" color="LEAD" font-size="30px" font-style="italic" line-height="1.25" padding="0 24px 14px"><h1>@@title@@</h1></mj-text>
        <mj-text css-class="cv-words" align="center">@@facts@@</mj-text>
        <mj-divider css-class="cv-line" border-width="1px" border-color="LINE" width="80px" padding="4px 24px 20px" />
        ${words}
        <mj-divider css-class="cv-line" border-width="3px" border-style="double" border-color="LEAD" width="160px" padding="18px 24px 18px" />
      </mj-column>
    </mj-section>
    ${below('center')}`;

/** What one keeps until the evening: the title and the facts on a stub, torn off along a dashed line. */
const ticket = `
    ${preheader}
    <mj-section padding="24px 0 0" />
    <mj-wrapper css-class="cv-stub" background-color="PRESS" border-radius="10px 10px 0 0" padding="22px 0 16px">
      <mj-section padding="0">
        <mj-column>
          <mj-text css-class="cv-on-stub" font-size="13px" color="ON_PRESS" letter-spacing="0.08em">@@house@@@@header@@</mj-text>
          <mj-text css-class="cv-on-stub" color="ON_PRESS" font-size="28px" font-weight="bold" line-height="1.2" padding="10px 24px 12px"><h1>@@title@@</h1></mj-text>
          <mj-text css-class="cv-on-stub" color="ON_PRESS" font-size="16px">@@facts@@</mj-text>
        </mj-column>
      </mj-section>
    </mj-wrapper>
    <mj-wrapper css-class="cv-sheet" background-color="SHEET" border-radius="0 0 10px 10px" border-top="3px dashed PAPER" padding="22px 0 8px">
      <mj-section padding="0">
        <mj-column>${words}</mj-column>
      </mj-section>
    </mj-wrapper>
    <mj-section padding="18px 0 0" />
    ${below('left')}`;

/** News of the house: its name large on top, the day it was written, then the headline. */
const bulletin = `
    ${preheader}
    <mj-section padding="28px 0 0">
      <mj-column>
        <mj-text css-class="cv-head" color="LEAD" font-size="34px" font-weight="bold" line-height="1.1">@@house@@</mj-text>
        <mj-divider css-class="cv-line" border-width="4px" border-color="PRESS" padding="12px 24px 6px" />
        <mj-text css-class="cv-small" font-size="13px" color="QUIET">@@day@@@@header@@</mj-text>
        <mj-divider css-class="cv-line" border-width="1px" border-color="LINE" padding="6px 24px 16px" />
      </mj-column>
    </mj-section>
    <mj-section padding="0 0 20px">
      <mj-column>
        <mj-text css-class="cv-head" color="INK" font-size="22px" font-weight="bold" line-height="1.3" padding="0 24px 14px"><h1>@@title@@</h1></mj-text>
        ${words}
        ${rule}
      </mj-column>
    </mj-section>
    ${below('left')}`;

/** A card on the board: what it is about first, in large letters, under a bar of the house's colour. */
const notice = `
    ${preheader}
    <mj-section padding="24px 0 0" />
    <mj-wrapper css-class="cv-sheet cv-board" background-color="SHEET" border="1px solid LINE" border-top="10px solid PRESS" padding="22px 0 10px">
      <mj-section padding="0">
        <mj-column>
          <mj-text css-class="cv-head" color="INK" font-size="26px" font-weight="bold" line-height="1.25" padding="0 24px 8px"><h1>@@title@@</h1></mj-text>
            ${words}
        </mj-column>
      </mj-section>
    </mj-wrapper>
    <mj-section padding="14px 0 6px">
      <mj-column>
        <mj-text css-class="cv-head" font-size="14px" color="LEAD">@@house@@@@header@@</mj-text>
      </mj-column>
    </mj-section>
    ${below('left')}`;

/** As somebody writes by hand: words, and no more than the law wants below. */
const bare = `
    ${preheader}
    <mj-section padding="24px 0 12px">
      <mj-column>
        ${words}
      </mj-column>
    </mj-section>
    ${below('left')}`;

/**
 * How mails are laid out, in mjml. Colours and the face stand as words in capitals, which a house's own take the place of once;
 * `@@slots@@` are filled for each reader.
 */
export const layouts: Readonly<Record<Design, string>> = { letter, programme, ticket, bulletin, notice, bare };
