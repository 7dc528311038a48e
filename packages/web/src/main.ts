import { provideHttpClient } from '@angular/common/http';
import { bootstrapApplication } from '@angular/platform-browser';
import { inject, Injector } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { MAT_FORM_FIELD_DEFAULT_OPTIONS } from '@angular/material/form-field';
import { App } from './app/app';
import { routes } from './app/app.routes';
import { fillInSettings } from './app/ui/fill-in';
import { defer, switchMap } from 'rxjs';

bootstrapApplication(App, {
  providers: [
    provideHttpClient(),
    {
      provide: fillInSettings,
      // Loaded by the few who need it.
      useFactory:
        (injector = inject(Injector)) =>
        () =>
          defer(() => import('./app/fill-in-settings')).pipe(
            switchMap(({ FillInSettings }) => injector.get(FillInSettings).ask()),
          ),
    },
    provideRouter(routes, withComponentInputBinding()),
    { provide: MAT_FORM_FIELD_DEFAULT_OPTIONS, useValue: { appearance: 'outline', subscriptSizing: 'dynamic' } },
  ],
}).catch((error: unknown) => console.error(error));
