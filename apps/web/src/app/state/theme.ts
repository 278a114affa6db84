import { Injectable, computed, effect } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { writePreference, readPreference } from './preferences';

type Choice = 'light' | 'dark' | 'system';

const system = (): MediaQueryList => matchMedia('(prefers-color-scheme: dark)');

interface Shade {
  choice: Choice;
  /** Whether the system is dark now. */
  systemDark: boolean;
}

/** Paper by day, slate by night: as the system says until the user chooses. */
@Injectable({ providedIn: 'root' })
export class Theme {
  private readonly state = signalState<Shade>({ choice: stored(), systemDark: system().matches });
  readonly choice = this.state.choice;
  readonly systemDark = this.state.systemDark;
  readonly dark = computed(() => (this.choice() === 'system' ? this.systemDark() : this.choice() === 'dark'));

  constructor() {
    system().addEventListener('change', (event) => patchState(this.state, { systemDark: event.matches }));
    effect(() => {
      document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
    });
  }

  toggle(): void {
    patchState(this.state, { choice: this.dark() ? 'light' : 'dark' });
    writePreference('theme', this.choice());
  }
}

function stored(): Choice {
  const value = readPreference('theme');
  return value === 'light' || value === 'dark' ? value : 'system';
}
