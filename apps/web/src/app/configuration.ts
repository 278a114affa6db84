import type { ApplicationConfig } from '@angular/core';
import { provideServiceWorker } from '@angular/service-worker';
import { provideBrowserGlobalErrorListeners, provideZonelessChangeDetection } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { en_US, provideNzI18n } from 'ng-zorro-antd/i18n';
import { routes } from './routes';
import { LevelEffects } from './state/level.effects';
import { studioFeature } from './state/studio.feature';

export const configuration: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    // The level document is shared with the core, which never changes it in place: freezing it on every action is not needed.
    provideStore(
      { studio: studioFeature.reducer },
      { runtimeChecks: { strictStateImmutability: false, strictActionImmutability: false } },
    ),
    provideEffects(LevelEffects),
    provideNzI18n(en_US),
    // While the server is down, a reload still opens the studio, with what this browser keeps of the levels.
    provideServiceWorker('ngsw-worker.js', { registrationStrategy: 'registerWhenStable:10000' }),
  ],
};
