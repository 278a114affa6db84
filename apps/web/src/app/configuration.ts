import type { ApplicationConfig } from '@angular/core';
import { provideServiceWorker } from '@angular/service-worker';
import { provideBrowserGlobalErrorListeners, provideZonelessChangeDetection } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { en_US, provideNzI18n } from 'ng-zorro-antd/i18n';
import { routes } from './routes';

export const configuration: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    provideNzI18n(en_US),
    // While the server is down, a reload still opens the studio, with what this browser keeps of the levels.
    provideServiceWorker('ngsw-worker.js', { registrationStrategy: 'registerWhenStable:10000' }),
  ],
};
