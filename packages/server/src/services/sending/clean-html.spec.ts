import { prepareDocument } from '@convite/core';
import { cleanHtml } from './clean-html';

describe('markup of the house’s own', () => {
  const clean = (html: string) => {
    const block = cleanHtml({ kind: 'html', html });
    if (block.kind !== 'html') throw new Error('it is another block');
    return block;
  };

  const rows: [what: string, html: string, left: string][] = [
    [
      'words and their looks',
      '<p style="color:#123;margin:0 4px">a <b>b</b></p>',
      '<p style="color:#123;margin:0 4px">a <b>b</b></p>',
    ],
    ['no script', 'a<script>alert(1)</script><img src=x onerror=alert(1)>', 'a'],
    ['no handler', '<p onclick="x()">a</p>', '<p>a</p>'],
    [
      'no frame, form or object',
      '<iframe src="https://x.example"></iframe><form action="/"><input></form><object></object>a',
      'a',
    ],
    ['no style sheet', '<style>p{}</style><link rel="stylesheet" href="https://x.example"><p>a</p>', '<p>a</p>'],
    [
      'no style that fetches',
      '<p style="background:url(https://x.example/a);color:red">a</p>',
      '<p style="color:red">a</p>',
    ],
    [
      'no address that runs',
      '<a href="javascript:alert(1)">a</a><a href=" JaVaScript:x">b</a><a href="data:text/html,x">c</a>',
      '<a>a</a><a>b</a><a>c</a>',
    ],
    ['no vector image', '<svg onload=alert(1)><circle/></svg>a', 'a'],
    [
      'an address that is a field which leads somewhere',
      '<a href="{{link.reply}}">a</a>',
      '<a href="{{link.reply}}">a</a>',
    ],
    [
      'no address of what a person is called',
      '<a href="{{person.name}}">a</a><a href="https://x.example/{{person.name}}">b</a>',
      '<a>a</a><a>b</a>',
    ],
    [
      'no picture of a field',
      '<img src="{{link.reply}}" alt="x"><img src="https://x.example/a.png" alt="y">',
      '<img alt="y" src="https://x.example/a.png" />',
    ],
    ['what was not closed, closed', '<table><tr><td><b>a', '<table><tr><td><b>a</b></td></tr></table>'],
  ];
  for (const [what, html, left] of rows) it(`keeps ${what}`, () => expect(clean(html).html).toBe(left));

  it('says in plain text what it says, with where its links lead and its fields', () => {
    const { text } = clean(
      '<h2>Doors</h2><p>at <b>{{event.clock}}</b>, <a href="https://map.example/x">the map</a></p><ul><li>one</li></ul>',
    );
    expect(text).toContain('Doors');
    expect(text).toContain('at {{event.clock}}, the map [https://map.example/x]');
    expect(text).toContain('* one');
  });

  it('is filled for each, whose words become no markup', () => {
    const block = clean('<p title="{{person.name}}">Dear {{person.firstName|friend}}</p>');
    const said = prepareDocument({ subject: '', blocks: [block] }).fill({
      'person.name': '"><script>x</script>',
      'person.firstName': '<b>Ana',
    });
    expect(said.html).toBe('<p title="&quot;&gt;&lt;script&gt;x&lt;/script&gt;">Dear &lt;b&gt;Ana</p>');
    expect(said.text).toBe('Dear <b>Ana');
  });

  it('is through with sixty thousand octets of nested nonsense within a second', () => {
    const beganAt = performance.now();
    clean('<div><b>'.repeat(7_000));
    clean(`<p style="${'color:red;'.repeat(5_000)}">`);
    clean('<a href="'.repeat(6_000));
    clean(`${'&lt;'.repeat(15_000)}`);
    expect(performance.now() - beganAt).toBeLessThan(4_000);
  });
});
