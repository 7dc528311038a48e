import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  selector: 'cv-not-found',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template:
    '<main><h1>There is no such page</h1><p>The address may be old. <a routerLink="/">Go to the call board</a>.</p></main>',
})
export class NotFound {}
