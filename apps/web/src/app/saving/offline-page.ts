import { makeEnvironmentProviders, provideEnvironmentInitializer } from '@angular/core';
import type { EnvironmentProviders } from '@angular/core';
import { provideServiceWorker } from '@angular/service-worker';
import { Observable } from 'rxjs';

/** For so long nothing is kept, so that whoever opens a level at once has the machine for themselves; in milliseconds. */
const AFTER = 1500;

/**
 * While the server is down, a reload still opens the studio, with what this browser keeps of the levels. The page is kept for
 * that by a service worker, which begins when the page has come to rest: if it took all at once, on a first visit whatever is
 * pressed would wait until all of it is there.
 */
export function provideOfflinePage(): EnvironmentProviders {
  return makeEnvironmentProviders([
    provideServiceWorker('ngsw-worker.js', { registrationStrategy: atRest }),
    provideEnvironmentInitializer(() => {
      // What cannot be kept now is kept by the next page.
      if ('serviceWorker' in navigator) keepAll().catch(() => undefined);
    }),
  ]);
}

function atRest(): Observable<void> {
  return new Observable((subscriber) => {
    const timer = setTimeout(() => void idle().then(() => subscriber.next()), AFTER);
    return () => clearTimeout(timer);
  });
}

/** Asks for every file of the studio that is not kept yet, one by one while nothing else is to be done; the service worker keeps them. */
async function keepAll(): Promise<void> {
  await navigator.serviceWorker.ready;
  if (navigator.serviceWorker.controller === null)
    await new Promise((resolve) => navigator.serviceWorker.addEventListener('controllerchange', resolve, { once: true }));
  const { assetGroups } = (await (await fetch('/ngsw.json')).json()) as { assetGroups: { urls: string[] }[] };
  for (const url of assetGroups.flatMap(({ urls }) => urls)) {
    await idle();
    if ((await caches.match(url, { ignoreVary: true })) === undefined && !(await fetch(url)).ok) return;
  }
}

function idle(): Promise<unknown> {
  return new Promise((resolve) => {
    if ('requestIdleCallback' in globalThis) requestIdleCallback(resolve, { timeout: 1000 });
    else setTimeout(resolve, 50);
  });
}
