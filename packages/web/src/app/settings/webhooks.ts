import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import type { Observable } from 'rxjs';
import { webhookKinds, type Webhook, type WebhookFields, type WebhookKind } from '@convite/contract';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { WebhooksApi } from '../api/webhooks';
import { sayError } from '../refused';
import { Confirm } from '../ui/confirm';
import { ReadingProblem } from '../ui/reading-problem';
import { sayNumber } from '../ui/say';
import { Toast } from '../ui/toast';
import { typed } from '../ui/typed';
import { When } from '../ui/when';
import { WebhookLog } from './webhook-log';

const kindWords: Readonly<Record<WebhookKind, string>> = {
  'opt-out': 'somebody opts out',
  bounce: 'an address bounces',
  reply: 'somebody answers an invitation',
  registration: 'somebody puts themselves down',
};
const blank: WebhookFields = { name: '', url: '', kinds: [...webhookKinds], isOn: true };

/** Other systems that are told what happens here, each with what it was told and whether it took it. */
@Component({
  selector: 'cv-webhooks',
  imports: [MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReadingProblem, WebhookLog, When],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="sheet stack" aria-label="Systems that are told">
      <div class="row">
        <h2>Systems that are told</h2>
        <button matButton="outlined" class="push" type="button" (click)="edit(null)">Tell another system</button>
      </div>
      <p class="small quiet">
        Each is posted what happens here, as it happens. How it is signed, and what is in it, stands at
        <a href="/docs/api#webhooks" target="_blank" rel="noopener">/docs/api</a>.
      </p>
      <cv-reading-problem [of]="all" what="The systems that are told" />
      @for (one of all.value(); track one.id) {
        <div class="stack tight">
          <div class="row">
            <span class="grow"
              ><strong class="rtl-safe">{{ one.name }}</strong>
              <span class="small quiet wrap">
                {{ one.url }} · when {{ sayKinds(one.kinds) }}
                @if (!one.isOn) {
                  · off
                }
                @if (one.waiting) {
                  · {{ sayNumber(one.waiting) }} to be told yet
                }
              </span>
              @if (one.failingSince; as since) {
                <br /><span class="small alarm">Does not take it since <cv-when [at]="since" [zone]="zone" /></span>
              }
            </span>
            <button class="link small" type="button" (click)="test(one.id)">Test</button>
            <button class="link small" type="button" (click)="look(one.id)">
              {{ looked() === one.id ? 'Close' : 'What it was told' }}
            </button>
            <button class="link small" type="button" (click)="edit(one)">Change</button>
            <button class="link small" type="button" (click)="remove(one)">Remove …</button>
          </div>
          @if (looked() === one.id) {
            <cv-webhook-log [webhookId]="one.id" />
          }
        </div>
      } @empty {
        @if (!all.hasFailed()) {
          <p class="quiet small">None. A customer file elsewhere would be told who opted out.</p>
        }
      }
      @if (made(); as secret) {
        <p class="note good small" role="status">
          Calls are signed with this. Copy it now, it is not shown again:<br /><code class="mono wrap">{{
            secret
          }}</code>
        </p>
      }
      @if (editing(); as it) {
        <form class="box stack" (submit)="save($event)">
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Name</mat-label
            ><input matInput maxlength="120" [value]="it.fields.name" (input)="set({ name: typed($event) })"
          /></mat-form-field>
          <mat-form-field subscriptSizing="dynamic"
            ><mat-label>Address (https://)</mat-label
            ><input matInput maxlength="2000" [value]="it.fields.url" (input)="set({ url: typed($event) })"
          /></mat-form-field>
          <fieldset>
            <legend>It is told when</legend>
            @for (kind of kinds; track kind) {
              <mat-checkbox [checked]="it.fields.kinds.includes(kind)" (change)="toggle(kind)">{{
                kindWords[kind]
              }}</mat-checkbox>
            }
          </fieldset>
          <mat-checkbox [checked]="it.fields.isOn" (change)="set({ isOn: $event.checked })">Switched on</mat-checkbox>
          @if (problem()) {
            <p class="field-problem" role="alert">{{ problem() }}</p>
          }
          <p class="row">
            <button matButton="filled">{{ it.id === null ? 'Add' : 'Save' }}</button>
            <button class="link" type="button" (click)="editing.set(null)">Leave it</button>
          </p>
        </form>
      }
    </section>
  `,
  styles: `
    fieldset {
      display: flex;
      flex-wrap: wrap;
      gap: 0 12px;
    }
  `,
})
export class Webhooks {
  protected readonly typed = typed;
  protected readonly sayNumber = sayNumber;
  protected readonly kinds = webhookKinds;
  protected readonly kindWords = kindWords;
  private readonly api = inject(WebhooksApi);
  private readonly toast = inject(Toast);
  private readonly confirm = inject(Confirm);
  protected readonly zone = inject(Session).zone();
  protected readonly all = reading(() => this.api.all(), []);
  protected readonly editing = signal<{ readonly id: number | null; readonly fields: WebhookFields } | null>(null);
  protected readonly looked = signal<number | null>(null);
  protected readonly made = signal('');
  protected readonly problem = signal('');
  private readonly log = viewChild(WebhookLog);

  protected sayKinds(kinds: readonly WebhookKind[]): string {
    return kinds.map((kind) => kindWords[kind]).join(', ');
  }
  protected edit(one: Webhook | null): void {
    this.problem.set('');
    this.made.set('');
    this.editing.set(
      one
        ? { id: one.id, fields: { name: one.name, url: one.url, kinds: one.kinds, isOn: one.isOn } }
        : { id: null, fields: blank },
    );
  }
  protected set(some: Partial<WebhookFields>): void {
    this.editing.update((it) => it && { ...it, fields: { ...it.fields, ...some } });
  }
  protected toggle(kind: WebhookKind): void {
    const { kinds = [] } = this.editing()?.fields ?? {};
    this.set({ kinds: kinds.includes(kind) ? kinds.filter((one) => one !== kind) : [...kinds, kind] });
  }
  protected look(id: number): void {
    this.looked.update((before) => (before === id ? null : id));
  }

  protected save(submit: Event): void {
    submit.preventDefault();
    const it = this.editing();
    if (!it) return;
    const { name, url, kinds } = it.fields;
    if (!name.trim()) return this.problem.set('Give it a name.');
    if (!/^https?:\/\/./i.test(url.trim())) return this.problem.set('Give an address that begins with https://.');
    if (kinds.length === 0) return this.problem.set('Say of what it is told.');
    const fields = { ...it.fields, name: name.trim(), url: url.trim() };
    if (it.id === null)
      this.api.add(fields).subscribe({
        next: ({ secret }) => {
          this.made.set(secret);
          this.settle();
        },
        error: (error: unknown) => this.problem.set(sayError(error)),
      });
    else
      this.api.change(it.id, fields).subscribe({
        next: () => this.settle(),
        error: (error: unknown) => this.problem.set(sayError(error)),
      });
  }
  protected remove({ id, name }: Webhook): void {
    this.confirm
      .ask({
        title: `Tell “${name}” nothing any more?`,
        text: 'What it was told, and what waits, is dropped with it.',
        yes: 'Remove it',
        no: 'Keep',
      })
      .subscribe(() => this.act(this.api.remove(id), 'It is told nothing any more.'));
  }
  protected test(id: number): void {
    this.looked.set(id);
    this.act(this.api.test(id), 'A test is posted; what became of it stands below.');
  }

  private act(asked: Observable<unknown>, words: string): void {
    asked.subscribe({
      next: () => {
        this.toast.say(words);
        this.settle();
      },
      error: (error: unknown) => this.toast.fail(error),
    });
  }
  private settle(): void {
    this.editing.set(null);
    this.all.reload();
    this.log()?.reload();
  }
}
