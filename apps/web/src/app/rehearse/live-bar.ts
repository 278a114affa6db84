import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Commands } from '../editing/commands';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';
import { LiveWalk } from './live-walk';
import type { Direction } from './live-walk';
import { Playback } from './playback';
import { Tip } from '../controls/tip';

const directions: Readonly<Record<string, Direction>> = {
  ArrowLeft: 'west',
  a: 'west',
  ArrowRight: 'east',
  d: 'east',
  ArrowUp: 'north',
  w: 'north',
  ArrowDown: 'south',
  s: 'south',
};

/** Where a key leads; undefined of all others. */
function directionOf({ key }: KeyboardEvent): Direction | undefined {
  return directions[key] ?? directions[key.toLowerCase()];
}

/** What can be done while a visitor is walked: who it is, time going on or standing still, what is near, and keeping it. */
@Component({
  selector: 'nw-live-bar',
  imports: [Tip, FormsModule, SearchLabel, NzSelectModule],
  template: `
    <div class="bar" role="group" aria-label="Walking it yourself">
      <nz-select
        nzSize="small"
        class="who"
        nwNamed="Visitor that you walk"
        [ngModel]="living.visitor()"
        (ngModelChange)="living.take($event)"
        (nzOpenChange)="toPlan($event)"
        [nzOptions]="visitors()"
      />
      <button type="button" class="button first" [nwTip]="onTip" [disabled]="!living.canGoOn()" (click)="living.toggle()">
        {{ living.running() ? 'Pause' : 'Resume' }}
      </button>
      @if (use(); as name) {
        <button type="button" class="button" nwTip="Use it (E)" (click)="living.use()">use {{ name }} <kbd>E</kbd></button>
      }
      @if (carry(); as what) {
        <button type="button" class="button" [nwTip]="what + ' (Q)'" (click)="living.carry()">{{ what }} <kbd>Q</kbd></button>
      }
      @if (living.handy().carries.length > 0) {
        <button type="button" class="button" nwTip="Throw it ahead (T)" (click)="living.throw()">throw <kbd>T</kbd></button>
      }
      <span class="push"></span>
      <button type="button" class="button" nwTip="Save this live walk in the level (K)" (click)="keep()">Save as walk</button>
      <button type="button" class="button" (click)="end()">End</button>
    </div>
    <p class="hint" aria-live="polite">{{ hint() }}</p>
  `,
  styles: `
    :host {
      display: block;
      padding: 6px 12px 4px;
      background: var(--wash-blue);
      border-top: 1px solid var(--line);
    }
    .bar {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
    }
    .who {
      min-width: 120px;
    }
    .first {
      min-width: 88px;
      justify-content: center;
    }
    .push {
      flex: 1;
    }
    .hint {
      margin: 2px 0 0;
      font: italic 14px var(--face-prose);
      color: var(--ink-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LiveBar {
  protected readonly living = inject(LiveWalk);
  private readonly editor = inject(Editor);
  private readonly playback = inject(Playback);
  protected readonly onTip: string;
  protected readonly visitors = computed(() =>
    this.editor
      .level()
      .visitors.filter(({ kind }) => kind !== 'prop')
      .map(({ id, name }) => ({ value: id, label: name.trim() })),
  );
  protected readonly use = computed(() => this.named(this.living.handy().uses[0]));
  protected readonly carry = computed(() => {
    const { carries, props } = this.living.handy();
    if (carries.length > 0) return `put down ${this.named(carries.at(-1))}`;
    return props.length > 0 ? `pick up ${this.named(props[0])}` : '';
  });
  protected readonly hint = computed(() => {
    if (!this.living.canGoOn()) return 'Stopped: endless loop in one tick. See the cycle in the ledger, then step back or end.';
    if (this.living.running() && this.living.hasPad())
      return 'The arrow keys walk, or the stick: its buttons use, pick up and throw. Space lets time stand still.';
    if (this.living.running()) return 'Hold an arrow key to walk. Space pauses.';
    if (this.playback.tick() < this.playback.last())
      return `Resume from ${this.playback.seconds().toFixed(2)} s. The rest stays as an attempt you can compare.`;
    return 'Paused. Step back with ← or the time bar to try another route.';
  });

  constructor() {
    const running = (): boolean => this.living.running();
    const commands = inject(Commands);
    commands.offer({
      'walk-on': {
        when: (event) => !(event?.target instanceof Element) || !event.target.matches('button, select, input[type=checkbox]'),
        run: () => this.living.toggle(),
      },
      go: {
        when: running,
        run: (event) => {
          const to = event === null ? undefined : directionOf(event);
          if (to !== undefined) this.living.press(to, true);
        },
      },
      'use-it': { when: running, run: () => this.living.use() },
      'carry-it': { when: running, run: () => this.living.carry() },
      'throw-it': { when: running, run: () => this.living.throw() },
      'keep-walk': () => void this.keep(),
    });
    this.onTip = commands.tip('walk-on');
    const up = (event: KeyboardEvent): void => {
      const to = directionOf(event);
      if (to !== undefined) this.living.press(to, false);
    };
    const away = (): void => this.living.letGo();
    addEventListener('keyup', up);
    addEventListener('blur', away);
    inject(DestroyRef).onDestroy(() => {
      removeEventListener('keyup', up);
      removeEventListener('blur', away);
    });
  }

  protected async keep(): Promise<void> {
    const name = await this.living.keep();
    if (name === null) return;
    this.editor.say(`Saved as walk “${name}”. You can compare this attempt until you leave Rehearse.`);
  }

  /** Once the list is closed, the keys walk again. */
  protected toPlan(isOpen: boolean): void {
    if (!isOpen) setTimeout(() => document.querySelector<HTMLElement>('main')?.focus({ preventScroll: true }));
  }

  protected end(): void {
    this.living.end();
  }

  private named(id: string | undefined): string {
    return id === undefined ? '' : this.editor.nameOf(id).trim();
  }
}
