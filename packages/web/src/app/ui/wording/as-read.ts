import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
} from '@angular/core';
import { sayFinding, type AskedLinks, type ShownMessage } from '@convite/contract';
import { addressesTyped, measureText, type WordingDocument } from '@convite/core';
import { MailBody } from '../mail-body';
import { sayCount } from '../say';
import { optionsOf, Toggle } from '../toggle';
import { ReadSamples } from './samples';
import { SendTest, type Tried } from './send-test';
import { WordingSource } from './wording-source';

const views = ['desk', 'phone', 'dark', 'no pictures', 'plain text', 'inbox'] as const;
type View = (typeof views)[number];
/** So many are asked at once. */
const mostAsked = 12;

/** A message as somebody reads it: at a desk, on a phone, in the dark, as plain text, and before it is opened; and what they would stumble over. */
@Component({
  selector: 'cv-as-read',
  imports: [MailBody, SendTest, Toggle],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let it = message();
    @if (it.channel === 'email') {
      <cv-toggle label="Look at it" [options]="views" [(value)]="view" />
      @switch (view()) {
        @case ('inbox') {
          @for (width of ['desk', 'phone']; track width) {
            <div class="inbox" [class.narrow]="width === 'phone'">
              <strong class="rtl-safe">{{ it.from }}</strong>
              <p class="rtl-safe">
                {{ it.subject }}&ngsp; <span class="quiet">{{ it.preheader }}</span>
              </p>
            </div>
          }
          <p class="small quiet">As it stands in a list of mails, at a desk and on a phone.</p>
        }
        @case ('plain text') {
          <p class="plain pre rtl-safe">{{ it.text }}</p>
        }
        @default {
          <p>
            <span class="quiet">Subject</span>&ngsp;<strong class="rtl-safe">{{ it.subject }}</strong>
          </p>
          <cv-mail-body
            [html]="it.html"
            [withoutPictures]="view() === 'no pictures'"
            [class.phone]="view() === 'phone'"
            [isNight]="view() === 'dark'"
          />
        }
      }
    } @else {
      <p class="bubble pre rtl-safe">{{ it.text }}</p>
      <p class="small quiet">
        {{ measured().units }} of {{ measured().unitsPerPart }}, {{ measured().encoding }}, {{ measured().parts }}
        {{ measured().parts === 1 ? 'part' : 'parts' }}{{ price() }}
      </p>
    }
    @if (it.findings.length) {
      <section aria-label="Worth a look">
        <h3>Worth a look</h3>
        <ul>
          @for (finding of it.findings; track $index) {
            <li>{{ say(finding) }}</li>
          }
        </ul>
      </section>
    } @else {
      <p class="small good">
        <span aria-hidden="true">✓</span> Nothing found that {{ it.channel === 'email' ? 'a reader' : 'they' }} would
        stumble over.
      </p>
    }
    @if (tried(); as it) {
      <cv-send-test [tried]="it" />
    }
    @if (addresses().length) {
      <div aria-live="polite">
        @for (one of asked(); track one.address) {
          <p class="small wrap" [class.alarm]="!one.isGood">
            <span aria-hidden="true">{{ one.isGood ? '✓' : '✗' }}</span> {{ one.address }}: {{ one.said }}
          </p>
        }
      </div>
      <button type="button" class="link small" [disabled]="isAsking()" (click)="ask()">
        {{ isAsking() ? 'Asking …' : 'Ask ' + links() + ' whether they answer' }}
      </button>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 10px;
      align-content: start;
    }
    p {
      margin: 0;
    }
    cv-mail-body.phone {
      width: 360px;
      max-width: 100%;
    }
    .plain,
    .inbox {
      padding: 10px 14px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
    }
    .plain {
      overflow-wrap: anywhere;
      font-size: 14px;
    }
    .inbox p {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .inbox.narrow {
      width: 300px;
    }
    .bubble {
      background: color-mix(in srgb, var(--text-channel) 14%, var(--sheet));
      border-left: 4px solid var(--text-channel);
      border-radius: 4px;
      padding: 10px 14px;
      max-width: 360px;
      overflow-wrap: anywhere;
    }
    h3 {
      margin: 0 0 4px;
      font-size: 14px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
      font-size: 13.5px;
      overflow-wrap: anywhere;
    }
    .good {
      color: var(--yes);
    }
  `,
})
export class AsRead {
  private readonly source = inject(WordingSource);
  readonly message = input.required<ShownMessage>();
  /** What it was made of, whose addresses can be asked. */
  readonly wording = input.required<WordingDocument>();
  /** What a test of it would be; null where it cannot be tried. */
  readonly tried = input<Tried | null>(null);
  constructor() {
    const samples = inject(ReadSamples);
    effect(() => samples.values.set(this.message().samples));
    inject(DestroyRef).onDestroy(() => samples.values.set({}));
  }
  protected readonly views = optionsOf(views);
  protected readonly view = signal<View>('desk');
  protected readonly say = sayFinding;
  protected readonly measured = computed(() => measureText(this.message().text));
  /** Of what it costs this person. */
  protected readonly price = computed(() => {
    const price = this.message().textPrice;
    return price ? `, ${sayMoney(price.perPart * this.measured().parts, price.currency)} to each who reads this` : '';
  });
  protected readonly addresses = computed(() => addressesTyped(this.wording()).slice(0, mostAsked));
  protected readonly links = computed(() => sayCount(this.addresses().length, 'link', 'links'));
  /** What they said, until other addresses are typed. */
  protected readonly asked = linkedSignal<string, AskedLinks>({
    source: () => this.addresses().join('\n'),
    computation: () => [],
  });
  protected readonly isAsking = signal(false);

  protected ask(): void {
    this.isAsking.set(true);
    this.source.askLinks(this.addresses()).subscribe({
      next: (asked) => this.asked.set(asked),
      error: () => this.isAsking.set(false),
      complete: () => this.isAsking.set(false),
    });
  }
}

const sayMoney = (amount: number, currency: string): string =>
  new Intl.NumberFormat('en', { style: 'currency', currency, maximumFractionDigits: 3 }).format(amount);
