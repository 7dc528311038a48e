import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { rxResource, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { debounceTime, filter } from 'rxjs';
import { type HouseLook, type PictureRow } from '@convite/contract';
import {
  contrastRatio,
  designs,
  faces,
  paletteOf,
  plainColour,
  readableRatio,
  type Design,
  type Face,
} from '@convite/core';
import { SettingsApi } from '../api/settings';
import { FieldProblem } from '../ui/field-problem';
import { MailBody } from '../ui/mail-body';
import { optionsOf, Toggle } from '../ui/toggle';
import { typed } from '../ui/typed';
import { designWords } from '../ui/wording/design-words';
import { PictureChooser } from '../ui/wording/picture-chooser';

const faceWords: Readonly<Record<Face, string>> = {
  bookish: 'Bookish: letters with feet',
  plain: 'Plain: letters without',
  friendly: 'Friendly: round letters',
};
const views = ['desk', 'phone', 'dark'] as const;

/** How the house’s mails look, beside one of them as it would look. */
@Component({
  selector: 'cv-mail-look',
  imports: [
    FieldProblem,
    MailBody,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatInputModule,
    MatSelectModule,
    PictureChooser,
    Toggle,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let it = look();
    <div class="said">
      <mat-form-field
        ><mat-label>Design of mails that say no other</mat-label
        ><mat-select [value]="it.design" [disabled]="isLocked()" (selectionChange)="design($event.value)">
          @for (one of designs; track one) {
            <mat-option [value]="one">{{ designWords[one] }}</mat-option>
          }
        </mat-select></mat-form-field
      >
      <mat-form-field
        ><mat-label>Letters</mat-label
        ><mat-select [value]="it.face" [disabled]="isLocked()" (selectionChange)="face($event.value)">
          @for (one of faces; track one) {
            <mat-option [value]="one">{{ faceWords[one] }}</mat-option>
          }
        </mat-select></mat-form-field
      >
      @if (contrast(); as words) {
        <p class="note small">{{ words }}</p>
      }
      <div class="row">
        @if (it.mark; as mark) {
          <img [src]="'/picture/' + mark.digest" [alt]="mark.words || 'The mark of the house'" height="40" />
        } @else {
          <span class="quiet small">No mark stands beside the house’s name.</span>
        }
        @if (!isLocked()) {
          <button matButton="outlined" type="button" (click)="isChoosing.set(true)">
            {{ it.mark ? 'Another mark' : 'Choose a mark' }}
          </button>
          @if (it.mark) {
            <button matButton type="button" (click)="change({ mark: null })">No mark</button>
          }
        }
      </div>
      @if (isChoosing()) {
        <cv-picture-chooser (chosen)="mark($event)" (closed)="isChoosing.set(false)" />
      }
      <mat-checkbox
        [checked]="it.carriesPictures"
        [disabled]="isLocked()"
        (change)="change({ carriesPictures: $event.checked })"
        >Pictures come inside each mail: they are seen at once, and each mail is as much larger</mat-checkbox
      >
      <mat-form-field
        ><mat-label>A line under the house’s name</mat-label
        ><input
          matInput
          maxlength="160"
          [value]="it.header"
          [disabled]="isLocked()"
          (input)="change({ header: typed($event) })"
      /></mat-form-field>
      <cv-field-problem path="look.header" />
      <mat-form-field
        ><mat-label>Signature under every message</mat-label
        ><textarea
          matInput
          rows="3"
          maxlength="500"
          [value]="it.signature"
          [disabled]="isLocked()"
          (input)="change({ signature: typed($event) })"
        ></textarea>
      </mat-form-field>
      <cv-field-problem path="look.signature" />
      <mat-form-field
        ><mat-label>Above the postal address</mat-label
        ><textarea
          matInput
          rows="2"
          maxlength="500"
          [value]="it.footer"
          [disabled]="isLocked()"
          (input)="change({ footer: typed($event) })"
        ></textarea>
      </mat-form-field>
      <cv-field-problem path="look.footer" />
    </div>
    <div class="seen">
      <cv-toggle label="Look at it" [options]="views" [(value)]="view" />
      @if (shown.hasValue()) {
        <cv-mail-body [html]="shown.value().html" [class.phone]="view() === 'phone'" [isNight]="view() === 'dark'" />
      } @else if (shown.error()) {
        <p class="note alarm" role="alert">It cannot be shown just now.</p>
      } @else {
        <p class="quiet" role="status">Laying it out …</p>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(260px, 1fr) minmax(0, 1.5fr);
      gap: 20px;
      align-items: start;
    }
    .said,
    .seen {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 8px;
    }
    .phone {
      width: 360px;
      max-width: 100%;
    }
    p {
      margin: 0;
    }
    @media (max-width: 900px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class MailLook {
  private readonly api = inject(SettingsApi);
  protected readonly typed = typed;
  readonly look = model.required<HouseLook>();
  /** Of the house, `#rrggbb`. */
  readonly colour = input.required<string>();
  readonly isLocked = input(false);
  protected readonly designs = designs;
  protected readonly designWords = designWords;
  protected readonly faces = faces;
  protected readonly faceWords = faceWords;
  protected readonly views = optionsOf(views);
  protected readonly view = signal<(typeof views)[number]>('desk');
  protected readonly isChoosing = signal(false);
  private readonly typedLook = computed(() => ({ look: this.look(), colour: this.colour().toLowerCase() }));
  private readonly asked = toSignal(
    toObservable(this.typedLook).pipe(
      debounceTime(250),
      filter(({ colour }) => /^#[0-9a-f]{6}$/.test(colour)),
    ),
  );
  protected readonly shown = rxResource({
    params: () => this.asked(),
    stream: ({ params }) => this.api.previewLook(params),
  });
  /** A colour that is too pale for words is made darker where words stand in it; that is told. */
  protected readonly contrast = computed(() => {
    const colour = this.asked()?.colour ?? plainColour;
    const { lead, press, tint } = paletteOf(colour).day;
    if (lead === colour && press === colour) return '';
    const ratio = contrastRatio(colour, tint);
    return ratio < readableRatio
      ? `On paper, the house’s colour is too pale for words (${ratio.toFixed(1)} to 1, and 4.5 is wanted): headings and links are darker, ${lead}.`
      : `Words on buttons would not be read on the house’s colour: there it is darker, ${press}.`;
  });

  protected design(design: Design): void {
    this.change({ design });
  }
  protected face(face: Face): void {
    this.change({ face });
  }
  protected mark({ digest, width, height, words }: PictureRow): void {
    this.isChoosing.set(false);
    this.change({ mark: { digest, width, height, words } });
  }
  protected change(part: Partial<HouseLook>): void {
    this.look.set({ ...this.look(), ...part });
  }
}
