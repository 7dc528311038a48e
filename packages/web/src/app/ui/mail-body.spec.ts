import { TestBed } from '@angular/core/testing';
import { MailBody } from './mail-body';

function render(html: string): ShadowRoot {
  const fixture = TestBed.createComponent(MailBody);
  fixture.componentRef.setInput('html', html);
  TestBed.tick();
  const root = (fixture.nativeElement as HTMLElement).shadowRoot;
  if (!root) throw new Error('no shadow root');
  return root;
}

describe('MailBody', () => {
  it('leaves out whatever could act or load, in every spelling', () => {
    const root =
      render(`<p onclick="x()">a</p><script>window.bad = 1</script><a href="javascript:bad()">b</a><a href=" JaVaScRiPt:bad()">c</a>
      <img src="http://x.example/t.png" srcset="x" onerror="bad()"><iframe src="https://x.example"></iframe><form action="/x"><input></form><svg onload="bad()"></svg><base href="/x">`);
    expect(root.querySelectorAll('script, iframe, form, svg, base, [onclick], [onerror], [srcset]').length).toBe(0);
    expect([...root.querySelectorAll('a')].map((link) => link.getAttribute('href'))).toEqual([null, null]);
    expect(root.textContent).toContain('a');
  });

  it('keeps the look: inline styles and style sheets, inside its own root', () => {
    const root = render(
      '<html><head><style>p { margin: 7px } @import "https://x.example/a.css";</style></head><body><p style="color: rgb(74, 37, 69)">Dear Ana</p></body></html>',
    );
    const paragraph = root.querySelector('p');
    expect(paragraph?.style.color).toBe('rgb(74, 37, 69)');
    expect(paragraph && getComputedStyle(paragraph).marginTop).toBe('7px');
    expect(getComputedStyle(document.body).marginTop).not.toBe('7px');
  });

  it('opens links elsewhere, without handing over the window', () => {
    const link = render('<a href="https://a.example/x?y=1">go</a>').querySelector('a');
    expect([link?.target, link?.rel]).toEqual(['_blank', 'noopener noreferrer']);
  });
});
