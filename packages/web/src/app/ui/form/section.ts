import { ChangeDetectionStrategy, Component, input } from '@angular/core';

let made = 0;

/** A part of a form: what it is about, and beside it its fields in twelve columns that line up. */
@Component({
  selector: 'cv-section',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section [attr.aria-labelledby]="id">
      <header>
        <h2 [id]="id">{{ heading() }}</h2>
        @if (about()) {
          <p class="quiet small">{{ about() }}</p>
        }
      </header>
      <div class="fields"><ng-content /></div>
    </section>
  `,
  styles: `
    :host {
      display: block;
    }
    section {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr);
      gap: 12px 24px;
    }
    .fields {
      align-content: start;
    }
    p {
      margin: 4px 0 0;
    }
    @media (max-width: 900px) {
      section {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class Section {
  readonly heading = input.required<string>();
  /** What the part is for, in a sentence. */
  readonly about = input('');
  protected readonly id = `section-${(made += 1)}`;
}
