import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { ChangedField, Difference } from '@convite/core';

const names: Readonly<Record<ChangedField, string>> = {
  title: 'Title',
  start: 'Starts',
  end: 'Ends',
  zone: 'Time zone',
  endZone: 'Zone of the end',
  rule: 'Repeats',
  occurrence: 'One date',
  venue: 'Venue',
  joinLink: 'Join link',
  description: 'Description',
  topics: 'Topics',
  entry: 'Calendar entry',
  isPersonal: 'Time',
  registration: 'Registration',
  calledOff: 'Takes place',
};

/** What differs between two versions, old against new. */
@Component({
  selector: 'cv-differences',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <dl>
      @for (difference of differences(); track $index) {
        <dt>{{ names[difference.field] }}</dt>
        <dd>
          <del class="pre">{{ difference.before || 'nothing' }}</del><ins class="pre">{{
            difference.after || 'nothing'
          }}</ins>
        </dd>
      }
    </dl>
  `,
  styles: `
    dl {
      margin: 0;
      display: grid;
      gap: 2px;
    }
    dt {
      color: var(--quiet);
      font-size: 13px;
    }
    dd {
      margin: 0 0 6px;
      display: grid;
      unicode-bidi: plaintext;
    }
    del {
      color: var(--quiet);
      max-height: 8em;
      overflow: auto;
    }
    ins {
      text-decoration: none;
      font-weight: 600;
      max-height: 8em;
      overflow: auto;
    }
  `,
})
export class Differences {
  readonly differences = input.required<readonly Difference[]>();
  protected readonly names = names;
}
