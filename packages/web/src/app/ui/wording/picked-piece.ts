import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import { RouterLink } from '@angular/router';
import { blockWords, formatsOf, mergeFields, tones, type Tone } from '@convite/core';
import { typed } from '../typed';
import type { AboutKind } from './insertions';

/** Something in a message that has more to it than its words. */
export type Picked =
  | { readonly kind: 'button'; readonly label: string; readonly address: string }
  | { readonly kind: 'field'; readonly field: string; readonly fallback: string }
  | { readonly kind: 'picture'; readonly words: string; readonly link: string }
  | {
      readonly kind: 'about';
      readonly about: AboutKind;
      readonly tone: string;
      readonly days: number;
      readonly key: string;
    }
  | { readonly kind: 'html'; readonly html: string }
  | { readonly kind: 'link'; readonly address: string };

/** What there is to say about what the cursor stands on: where a button or a link leads, what stands in for an empty field. */
@Component({
  selector: 'cv-picked-piece',
  imports: [MatFormFieldModule, MatInputModule, MatSelectModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown.enter)': 'done($event)', '(keydown.escape)': 'done($event)' },
  template: `
    @let it = piece();
    @switch (it.kind) {
      @case ('button') {
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>On the button</mat-label
          ><input
            matInput
            maxlength="120"
            [value]="it.label"
            (input)="changed.emit({ kind: 'button', label: typed($event), address: it.address })"
        /></mat-form-field>
        <mat-form-field class="wide" subscriptSizing="dynamic"
          ><mat-label>Leads to</mat-label
          ><input
            matInput
            maxlength="2000"
            placeholder="https://… or {{ '{{link.reply}}' }}"
            [value]="it.address"
            (input)="changed.emit({ kind: 'button', label: it.label, address: typed($event) })"
        /></mat-form-field>
      }
      @case ('field') {
        @if (formatsOf(it.field); as formats) {
          @if (formats.length) {
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>Written as</mat-label
              ><mat-select
                [value]="it.field"
                (selectionChange)="changed.emit({ kind: 'field', field: $event.value, fallback: it.fallback })"
              >
                @for (one of formats; track one) {
                  <mat-option [value]="one">{{ saysOf(one) }}</mat-option>
                }
              </mat-select></mat-form-field
            >
          } @else {
            <span class="small quiet">{{ saysOf(it.field) }}</span>
          }
        }
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Where it is empty</mat-label
          ><input
            matInput
            maxlength="200"
            placeholder="friend"
            [value]="it.fallback"
            (input)="changed.emit({ kind: 'field', field: it.field, fallback: typed($event) })"
        /></mat-form-field>
      }
      @case ('picture') {
        <mat-form-field class="wide" subscriptSizing="dynamic"
          ><mat-label>What it shows, for whoever does not see it</mat-label
          ><input
            matInput
            maxlength="300"
            [value]="it.words"
            (input)="changed.emit({ kind: 'picture', words: typed($event), link: it.link })"
        /></mat-form-field>
        <mat-form-field subscriptSizing="dynamic"
          ><mat-label>Pressed, it leads to</mat-label
          ><input
            matInput
            maxlength="2000"
            placeholder="nowhere, or https://…"
            [value]="it.link"
            (change)="changed.emit({ kind: 'picture', words: it.words, link: typed($event) })"
        /></mat-form-field>
      }
      @case ('about') {
        @switch (it.about) {
          @case ('coming') {
            <mat-form-field subscriptSizing="dynamic"
              ><mat-label>So many days ahead</mat-label
              ><input
                matInput
                type="number"
                min="1"
                max="366"
                [value]="it.days"
                (change)="
                  changed.emit({ kind: 'about', about: it.about, tone: it.tone, days: +typed($event), key: it.key })
                "
            /></mat-form-field>
          }
          @case ('house') {
            <a class="small" [routerLink]="['/wording', it.key]">Look at the block</a>
          }
          @default {
            @if (it.about === 'reply' || it.about === 'opening') {
              <mat-form-field subscriptSizing="dynamic"
                ><mat-label>Tone</mat-label
                ><mat-select
                  [value]="it.tone"
                  (selectionChange)="
                    changed.emit({ kind: 'about', about: it.about, tone: $event.value, days: it.days, key: it.key })
                  "
                >
                  @for (tone of tones; track tone) {
                    <mat-option [value]="tone">{{ tone }}: {{ sampleOf(it.about, tone) }}</mat-option>
                  }
                </mat-select></mat-form-field
              >
            }
          }
        }
      }
      @case ('html') {
        <mat-form-field class="whole" subscriptSizing="dynamic"
          ><mat-label>HTML, with fields in braces; scripts, forms and frames are left out</mat-label
          ><textarea
            matInput
            class="mono"
            rows="8"
            maxlength="60000"
            spellcheck="false"
            (keydown.enter)="$event.stopPropagation()"
            [value]="it.html"
            (change)="changed.emit({ kind: 'html', html: typed($event) })"
          ></textarea>
        </mat-form-field>
      }
      @case ('link') {
        <mat-form-field class="wide" subscriptSizing="dynamic"
          ><mat-label>The link leads to</mat-label
          ><input
            matInput
            maxlength="2000"
            placeholder="https://…"
            [value]="it.address"
            (change)="changed.emit({ kind: 'link', address: typed($event) })"
        /></mat-form-field>
      }
    }
    <button type="button" class="link small" (click)="gone.emit()">
      {{ it.kind === 'link' ? 'No link' : 'Take it out' }}
    </button>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      padding: 8px;
      border-top: 1px solid var(--line);
    }
    mat-form-field {
      flex: 0 1 220px;
      width: auto;
    }
    .whole {
      flex: 1 1 100%;
    }
    .wide {
      flex: 1 1 260px;
    }
  `,
})
export class PickedPiece {
  protected readonly typed = typed;
  readonly piece = input.required<Picked>();
  readonly changed = output<Picked>();
  readonly gone = output();
  readonly closed = output();

  protected readonly formatsOf = formatsOf;
  protected readonly tones = tones;
  protected sampleOf(about: AboutKind, tone: Tone): string {
    const { answers, openings } = blockWords.en;
    const { yes, perhaps, no } = answers[tone];
    return about === 'opening' ? openings[tone].to('Ana') : [yes, perhaps, no].join(' / ');
  }
  protected saysOf(field: string): string {
    return Object.entries(mergeFields).find(([name]) => name === field)?.[1] ?? field;
  }
  /** Back to the words; a form around it is not sent. */
  protected done(event: Event): void {
    event.preventDefault();
    event.stopPropagation();
    if (event.target instanceof HTMLInputElement) event.target.dispatchEvent(new Event('change'));
    this.closed.emit();
  }
}
