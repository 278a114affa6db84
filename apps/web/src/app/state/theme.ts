import { Injectable, computed, effect } from '@angular/core';
import { patchState, signalStore, withState } from '@ngrx/signals';
import { keep, kept } from './kept';

type Choice = 'light' | 'dark' | 'system';

const system = (): MediaQueryList => matchMedia('(prefers-color-scheme: dark)');

interface Shade {
  choice: Choice;
  /** Whether the system is dark now. */
  systemDark: boolean;
}

/** Paper by day, slate by night: as the system says until the user chooses. */
@Injectable({ providedIn: 'root' })
export class Theme extends signalStore(
  { protectedState: false },
  withState<Shade>(() => ({ choice: stored(), systemDark: system().matches })),
) {
  readonly dark = computed(() => (this.choice() === 'system' ? this.systemDark() : this.choice() === 'dark'));

  constructor() {
    super();
    system().addEventListener('change', (event) => patchState(this, { systemDark: event.matches }));
    effect(() => {
      document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
    });
  }

  toggle(): void {
    patchState(this, { choice: this.dark() ? 'light' : 'dark' });
    keep('theme', this.choice());
  }
}

function stored(): Choice {
  const value = kept('theme');
  return value === 'light' || value === 'dark' ? value : 'system';
}
