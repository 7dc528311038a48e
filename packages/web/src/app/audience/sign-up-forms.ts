import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { map } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { reading } from '../api/reading';
import { Session } from '../api/session';
import { SettingsApi } from '../api/settings';
import { SignUpFormsApi } from '../api/sign-up-forms';
import { ReadingProblem } from '../ui/reading-problem';
import { SignUpEditor } from './sign-up-editor';

/** Forms by which people come by themselves. */
@Component({
  selector: 'cv-sign-up-forms',
  imports: [MatButtonModule, ReadingProblem, RouterLink, SignUpEditor],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <div class="head">
        <h1>Sign-up forms</h1>
        <span class="quiet">people who come by themselves</span>
        <a class="push" matButton routerLink="/audience">Back to the audience</a>
        @if (session.canMarket()) {
          <a matButton="filled" routerLink="/audience/forms" [queryParams]="{ form: 'new' }">New form</a>
        }
      </div>
      <div class="columns flip">
        <nav class="stack" aria-label="Sign-up forms">
          <cv-reading-problem [of]="forms" what="The forms" />
          @for (one of forms.value(); track one.id) {
            <a
              class="list-row"
              routerLink="/audience/forms"
              [queryParams]="{ form: one.id }"
              [attr.aria-current]="form() === '' + one.id ? 'true' : null"
            >
              <span class="rtl-safe">{{ one.name }}</span><span class="quiet small">{{
                one.isOpen ? 'open' : 'closed'
              }}</span>
            </a>
          }
        </nav>
        <section class="sheet" aria-label="The form">
          @if (form() === 'new' || chosen()) {
            @for (key of [form()]; track key) {
              <cv-sign-up-editor
                [form]="chosen()"
                [lists]="lists.value()"
                [topics]="topics.value()"
                (saved)="open($event)"
              />
            }
          } @else {
            <p class="empty">
              @if (forms.value().length) {
                Choose a form to see what it asks.
              } @else {
                None yet. A form has a page of its own, a picture to print, and a block for your own pages.
              }
            </p>
          }
        </section>
      </div>
    </main>
  `,
})
export class SignUpForms {
  private readonly api = inject(SignUpFormsApi);
  private readonly audience = inject(AudienceApi);
  private readonly settings = inject(SettingsApi);
  private readonly router = inject(Router);
  protected readonly session = inject(Session);
  /** Which is looked at, from the address: its number, or `new`. */
  readonly form = input<string>();
  protected readonly forms = reading(() => this.api.all(), []);
  protected readonly lists = reading(() => this.audience.lists(), []);
  protected readonly topics = reading(() => this.settings.get().pipe(map(({ topics }) => topics)), []);
  protected readonly chosen = computed(() => this.forms.value().find(({ id }) => String(id) === this.form()) ?? null);

  protected open(id: number): void {
    this.forms.reload();
    void this.router.navigate([], { queryParams: { form: id } });
  }
}
