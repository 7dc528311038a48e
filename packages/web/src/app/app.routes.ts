import { inject, Injector } from '@angular/core';
import {
  type CanDeactivateFn,
  type CanActivateChildFn,
  type CanActivateFn,
  type CanMatchFn,
  Router,
  type Routes,
} from '@angular/router';
import { firstValueFrom, map } from 'rxjs';
import { Session } from './api/session';

/** Everything but the door needs somebody signed in; the way back is remembered. */
const signedIn: CanActivateFn = (_route, { url }) => {
  const session = inject(Session);
  const door = inject(Router).createUrlTree(['/sign-in'], { queryParams: url === '/' ? {} : { to: url } });
  if (session.me()) return true;
  return session.load().pipe(map((me) => (me ? true : door)));
};

/** Where the house asks for a second factor, only one's account is open until it stands. */
const factorStands: CanActivateChildFn = (_route, { url }) =>
  !inject(Session).me()?.mustSetUpFactor || url.startsWith('/account')
    ? true
    : inject(Router).createUrlTree(['/account']);

/** Where the pieces of the interface stand in all their states: nobody needs that in a real house. */
const inDemonstration: CanMatchFn = () => {
  const session = inject(Session);
  // Routes are matched before anybody is asked who they are.
  return session.me()?.hasBackstage ?? session.load().pipe(map((me) => me?.hasBackstage ?? false));
};

/** Leaving a screen with something unsaved asks. What asks is fetched then. */
const asksBeforeLeaving: CanDeactivateFn<unknown> = async () => {
  const injector = inject(Injector);
  const { Unsaved } = await import('./ui/form/unsaved');
  return firstValueFrom(injector.get(Unsaved).mayLeave());
};

/** Screens that ask before they are left with something unsaved. */
const asking = (screens: Routes): Routes =>
  screens.map((screen) => (screen.loadComponent ? { ...screen, canDeactivate: [asksBeforeLeaving] } : screen));

export const routes: Routes = [
  {
    path: 'sign-in',
    title: 'Sign in · Convite',
    loadComponent: () => import('./account/sign-in').then((it) => it.SignIn),
  },
  {
    path: 'new-password',
    title: 'Choose a password · Convite',
    loadComponent: () => import('./account/new-password').then((it) => it.NewPassword),
  },
  {
    path: '',
    canActivate: [signedIn],
    canActivateChild: [factorStands],
    loadComponent: () => import('./shell').then((it) => it.Shell),
    children: asking([
      {
        path: '',
        pathMatch: 'full',
        title: 'Call board · Convite',
        loadComponent: () => import('./call-board/call-board').then((it) => it.CallBoard),
      },
      {
        path: 'sendings/:id',
        title: 'Delivery log · Convite',
        loadComponent: () => import('./log/delivery-log').then((it) => it.DeliveryLog),
      },
      {
        path: 'schedule',
        title: 'Schedule · Convite',
        loadComponent: () => import('./schedule/schedule').then((it) => it.ScheduleScreen),
      },
      {
        path: 'log',
        title: 'Delivery log · Convite',
        loadComponent: () => import('./log/delivery-log').then((it) => it.DeliveryLog),
      },
      {
        path: 'releases',
        title: 'To be released · Convite',
        loadComponent: () => import('./call-board/releases').then((it) => it.Releases),
      },
      {
        path: 'letters',
        title: 'Letters · Convite',
        loadComponent: () => import('./call-board/letters').then((it) => it.Letters),
      },
      {
        path: 'events',
        title: 'Events · Convite',
        loadComponent: () => import('./events/event-list').then((it) => it.EventList),
      },
      {
        path: 'events/new',
        title: 'New event · Convite',
        loadComponent: () => import('./events/new-event').then((it) => it.NewEvent),
      },
      {
        path: 'events/import',
        title: 'Import events · Convite',
        loadComponent: () => import('./events/import-calendar').then((it) => it.ImportCalendar),
      },
      {
        path: 'events/:id',
        title: 'Event · Convite',
        loadComponent: () => import('./events/event-frame').then((it) => it.EventFrame),
        children: asking([
          { path: '', pathMatch: 'full', redirectTo: 'details' },
          { path: 'details', loadComponent: () => import('./events/details').then((it) => it.Details) },
          { path: 'guests', loadComponent: () => import('./events/guests').then((it) => it.Guests) },
          { path: 'invitation', loadComponent: () => import('./events/invitation').then((it) => it.Invitation) },
          { path: 'countdown', loadComponent: () => import('./events/countdown').then((it) => it.Countdown) },
          { path: 'rehearsal', loadComponent: () => import('./events/rehearsal').then((it) => it.RehearsalScreen) },
          {
            path: 'run-through',
            canMatch: [inDemonstration],
            loadComponent: () => import('./events/run-through').then((it) => it.RunThrough),
          },
          { path: 'changes', loadComponent: () => import('./events/changes').then((it) => it.Changes) },
        ]),
      },
      {
        path: 'digests',
        title: 'Digests · Convite',
        loadComponent: () => import('./digests/digests').then((it) => it.Digests),
      },
      {
        path: 'audience/segments',
        title: 'Segments · Convite',
        loadComponent: () => import('./audience/segments').then((it) => it.Segments),
      },
      {
        path: 'audience/forms',
        title: 'Sign-up forms · Convite',
        loadComponent: () => import('./audience/sign-up-forms').then((it) => it.SignUpForms),
      },
      {
        path: 'audience/fields',
        title: 'Fields and topics · Convite',
        loadComponent: () => import('./audience/vocabulary').then((it) => it.VocabularyPage),
      },
      {
        path: 'audience/pressure',
        title: 'Contact pressure · Convite',
        loadComponent: () => import('./audience/pressure').then((it) => it.PressurePage),
      },
      {
        path: 'audience/add',
        title: 'Add people · Convite',
        loadComponent: () => import('./audience/bring-in').then((it) => it.BringIn),
      },
      {
        path: 'audience',
        title: 'Audience · Convite',
        loadComponent: () => import('./audience/audience').then((it) => it.Audience),
      },
      {
        path: 'wording',
        title: 'Wording · Convite',
        loadComponent: () => import('./wording/wordings').then((it) => it.Wordings),
      },
      {
        path: 'wording/pictures',
        title: 'Pictures · Convite',
        loadComponent: () => import('./wording/pictures').then((it) => it.Pictures),
      },
      {
        path: 'wording/:key',
        title: 'Wording · Convite',
        loadComponent: () => import('./wording/wording-page').then((it) => it.WordingPage),
      },
      {
        path: 'backstage',
        title: 'Backstage · Convite',
        loadComponent: () => import('./backstage/backstage').then((it) => it.Backstage),
      },
      {
        path: 'kit',
        title: 'The kit · Convite',
        canMatch: [inDemonstration],
        loadComponent: () => import('./kit/kit').then((it) => it.Kit),
      },
      {
        path: 'settings',
        pathMatch: 'full',
        redirectTo: 'settings/house',
      },
      {
        path: 'settings/:section',
        title: 'Settings · Convite',
        loadComponent: () => import('./settings/settings').then((it) => it.SettingsPage),
      },
      {
        path: 'account',
        title: 'Your account · Convite',
        loadComponent: () => import('./account/account').then((it) => it.AccountPage),
      },
      {
        path: '**',
        title: 'Not found · Convite',
        loadComponent: () => import('./account/not-found').then((it) => it.NotFound),
      },
    ]),
  },
];
