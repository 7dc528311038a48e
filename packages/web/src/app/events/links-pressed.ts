import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import { BoardApi } from '../api/board';
import { sayCount, sayNumber } from '../ui/say';

/** Which of the links of a message that went out were pressed, and by how many; nothing where they are not counted. */
@Component({
  selector: 'cv-links-pressed',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let it = links.hasValue() ? links.value() : null;
    @if (it?.opened; as opened) {
      <p class="small" aria-label="Opened emails">
        Opened by {{ people(opened.people) }}, as far as pictures tell: many mail programs load them by themselves, or
        never.
      </p>
    }
    @if (it?.links?.length) {
      <section class="sheet" aria-label="Pressed links">
        <h3>Pressed links</h3>
        <ul class="plain">
          @for (link of it?.links; track $index) {
            <li>
              <span class="wrap">{{ link.url }}</span>
              <span class="small quiet">{{ say(link) }}</span>
            </li>
          }
        </ul>
      </section>
    }
  `,
  styles: `
    h3 {
      margin: 0 0 6px;
      font-size: 15px;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      justify-content: space-between;
      padding: 4px 0;
    }
  `,
})
export class LinksPressed {
  private readonly api = inject(BoardApi);
  readonly firingId = input.required<number>();
  protected readonly links = rxResource({
    params: () => this.firingId(),
    stream: ({ params }) => this.api.linksOf(params),
  });
  protected readonly people = (count: number): string => sayCount(count, 'person', 'people');
  protected say({ presses, people, byPrograms }: { presses: number; people: number; byPrograms: number }): string {
    const by = people ? `${sayCount(people, 'person', 'people')}, ` : '';
    const programs = byPrograms ? `; ${sayNumber(byPrograms)} more by programs that look at every link` : '';
    return presses ? `${by}${sayCount(presses, 'time', 'times')}${programs}` : `not yet${programs}`;
  }
}
