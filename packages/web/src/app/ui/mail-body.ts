import { ChangeDetectionStrategy, Component, effect, ElementRef, inject, input } from '@angular/core';

const dropped = 'script, iframe, object, embed, link, meta, base, form, svg, math, template';

/**
 * An email's HTML as its reader sees it, in a shadow root so that its styles stay inside. The page's content policy
 * forbids inline styles: they are carried over through the CSS object model, which it allows, and everything that could
 * act or load is left out.
 */
@Component({
  selector: 'cv-mail-body',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
  styles:
    ':host { display: block; background: #fbf8f3; color: #1d2433; color-scheme: light; border: 1px solid var(--line); border-radius: 6px; overflow: auto; }',
})
export class MailBody {
  readonly html = input.required<string>();
  /** As programs show it that fetch no pictures. */
  readonly withoutPictures = input(false);
  /** As it is read in the dark, by programs that ask for that. */
  readonly isNight = input(false);
  private readonly root = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement.attachShadow({ mode: 'open' });

  constructor() {
    effect(() => this.show(this.html(), this.withoutPictures(), this.isNight()));
  }

  private show(html: string, withoutPictures: boolean, isNight: boolean): void {
    const { quiet, css } = setStylesAside(html);
    const parsed = new DOMParser().parseFromString(quiet, 'text/html');
    parsed.querySelectorAll(dropped).forEach((element) => element.remove());
    parsed.body.querySelectorAll('*').forEach((element) => {
      for (const { name, value } of [...element.attributes])
        if (!isHarmless(name, value)) element.removeAttribute(name);
      if (element.tagName === 'A') {
        element.setAttribute('target', '_blank');
        element.setAttribute('rel', 'noopener noreferrer');
      }
    });
    const content = document.importNode(parsed.body, true);
    content
      .querySelectorAll<HTMLElement>('[data-style]')
      .forEach((element) => (element.style.cssText = element.dataset['style'] ?? ''));
    if (withoutPictures) content.querySelectorAll('img').forEach((picture) => picture.removeAttribute('src'));
    const frame = document.createElement('div');
    frame.className = content.className;
    frame.append(...content.childNodes);
    const sheet = new CSSStyleSheet();
    // What this screen looks like says nothing of where the mail is read.
    sheet.replaceSync(css.replace(/\(prefers-color-scheme:\s*dark\)/g, isNight ? 'all' : 'not all'));
    this.root.adoptedStyleSheets = [sheet];
    this.root.replaceChildren(frame);
  }
}

/** A parsed document obeys the page's policy too: styles leave the text before it is parsed. */
function setStylesAside(html: string): { quiet: string; css: string } {
  let css = '';
  const withoutSheets = html.replace(/<style[^>]*>([\s\S]*?)<\/style>/gi, (_, rules: string) => {
    css += `${rules.replace(/@import[^;]*;?/gi, '')}\n`;
    return '';
  });
  return { quiet: withoutSheets.replace(/<[a-z][^>]*>/gi, (tag) => tag.replace(/\sstyle\s*=/gi, ' data-style=')), css };
}

function isHarmless(name: string, value: string): boolean {
  if (name === 'style' || name.startsWith('on') || name === 'srcset' || name === 'background') return false;
  if (name === 'href' || name === 'src') return /^(https?:|mailto:|tel:|data:image\/)/i.test(value);
  return true;
}
