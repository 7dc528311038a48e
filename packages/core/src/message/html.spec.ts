import { calendarDress, mailDressOf, quotedDressOf, textToHtml } from './html';
import { plainPalette } from './look';
import { stylesOf } from './styles';

const styles = stylesOf(plainPalette);
const mailDress = mailDressOf(styles);
const quotedDress = quotedDressOf(styles);

describe('text as HTML', () => {
  for (const [what, text, html] of [
    ['paragraphs and line breaks', 'One\ntwo\n\n\nthree\n', '<p>One<br>two</p><p>three</p>'],
    ['lists', 'Bring:\n\n- a coat\n- *no* lamp', '<p>Bring:</p><ul><li>a coat</li><li><b>no</b> lamp</li></ul>'],
    ['a dash in a paragraph as a dash', 'one\n- two', '<p>one<br>- two</p>'],
    ['bold words, and stars that are none', 'A *very big* 2*3*4 * star', '<p>A <b>very big</b> 2*3*4 * star</p>'],
    [
      'addresses, without the full stop after them',
      'See https://x.example/a?b=1&c=(2), or (http://y.example).',
      '<p>See <a href="https://x.example/a?b=1&amp;c=(2">https://x.example/a?b=1&amp;c=(2</a>), or (<a href="http://y.example">http://y.example</a>).</p>',
    ],
    [
      'markup as text: nothing from data becomes an element or leaves an attribute',
      '<img src=x onerror="y"> https://x.example/"><script>',
      '<p>&lt;img src=x onerror=&quot;y&quot;&gt; <a href="https://x.example/">https://x.example/</a>&quot;&gt;&lt;script&gt;</p>',
    ],
    ['no link of another scheme', 'javascript:alert(1)', '<p>javascript:alert(1)</p>'],
  ] as const)
    it(`in calendars takes ${what}`, () => expect(textToHtml(text, calendarDress)).toBe(html));

  it('in mail shortens long addresses, and knows neither lists nor bold', () => {
    const long = `https://x.example/${'a'.repeat(80)}`;
    expect(textToHtml(`- *one*\n${long}`, mailDress)).toBe(
      `<p style="margin:0 0 16px">- *one*<br /><a href="${long}" class="cv-lead" style="color:#4a2545;font-weight:bold">${long.slice(0, 60)}…</a></p>`,
    );
  });

  it('of a stranger links nothing', () => {
    expect(textToHtml('See https://x.example <b>', quotedDress)).toBe(
      '<p style="margin:0 0 16px">See https://x.example &lt;b&gt;</p>',
    );
  });
});
