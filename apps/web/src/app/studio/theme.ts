import { Injectable, computed, effect, signal } from '@angular/core';
import { keep, kept } from './kept';

type Choice = 'light' | 'dark' | 'system';

/** Paper by day, slate by night: as the system says until the user chooses. */
@Injectable({ providedIn: 'root' })
export class Theme {
  private readonly system = matchMedia('(prefers-color-scheme: dark)');
  private readonly systemDark = signal(this.system.matches);
  readonly choice = signal<Choice>(stored());
  readonly dark = computed(() => (this.choice() === 'system' ? this.systemDark() : this.choice() === 'dark'));

  constructor() {
    this.system.addEventListener('change', (event) => this.systemDark.set(event.matches));
    effect(() => {
      document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
    });
  }

  toggle(): void {
    this.choice.set(this.dark() ? 'light' : 'dark');
    keep('theme', this.choice());
  }
}

function stored(): Choice {
  const value = kept('theme');
  return value === 'light' || value === 'dark' ? value : 'system';
}
