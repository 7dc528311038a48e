import './zod-config';
import { provideHttpClient } from '@angular/common/http';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { App } from './app/app';
import { routes } from './app/app.routes';

bootstrapApplication(App, { providers: [provideHttpClient(), provideRouter(routes, withComponentInputBinding())] }).catch((error: unknown) => console.error(error));
