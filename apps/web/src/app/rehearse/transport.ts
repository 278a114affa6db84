import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { SearchLabel } from '../controls/search-label';
import { Slider } from '../controls/slider';
import { Tip } from '../controls/tip';

const speeds = [0.1, 0.25, 0.5, 1, 2, 4, 8];

/** Play, pause, tick by tick, scrub and speed; the marks over the time bar are the entries of the ledger. */
@Component({
  selector: 'nw-transport',
  imports: [Tip, FormsModule, SearchLabel, NzSelectModule, Slider],
  template: `
    <div class="bar">
      @if (plays()) {
        <button
          type="button"
          class="button first"
          [nwTip]="(playback.playing() ? 'Pause' : 'Play') + ' (space)'"
          (click)="playback.toggle()"
        >
          {{ playback.playing() ? 'Pause' : 'Play' }}
        </button>
      }
      <button
        type="button"
        class="button"
        nwTip="One tick back (←)"
        aria-label="−1 tick: One tick back"
        (click)="playback.seek(playback.tick() - 1)"
      >
        −1
      </button>
      <button
        type="button"
        class="button"
        nwTip="Forward one tick (→)"
        aria-label="+1 tick: One tick on"
        (click)="playback.seek(playback.tick() + 1)"
      >
        +1
      </button>
      <span class="time" data-testid="time"
        >{{ playback.seconds().toFixed(2) }} s
        <span class="quiet">tick {{ playback.tick() }} of {{ playback.last() }}</span></span
      >
      <label
        ><span class="unseen">speed</span>
        <nz-select
          nzSize="small"
          class="speeds"
          nwNamed="Speed"
          [ngModel]="playback.speed()"
          (ngModelChange)="playback.playAt($event)"
          [nzOptions]="speeds"
        />
      </label>
      <ng-content />
      <span class="busy" aria-live="polite">{{ rehearser.busy() ? 'rehearsing…' : '' }}</span>
    </div>
    <div class="track">
      <svg class="marks" viewBox="0 0 1000 14" preserveAspectRatio="none" aria-hidden="true">
        <path class="happened" [attr.d]="marks().happened" />
        <path class="held" [attr.d]="marks().held" />
      </svg>
      <nw-slider
        name="Time"
        [max]="playback.last()"
        [value]="playback.tick()"
        [says]="playback.seconds().toFixed(2) + ' seconds'"
        (slid)="playback.seek($event)"
      />
    </div>
  `,
  styles: `
    :host {
      display: block;
      position: relative;
      padding: 8px 12px;
      background: var(--sheet);
      border-top: 1px solid var(--line);
    }
    .speeds {
      width: 76px;
    }
    .bar {
      display: flex;
      align-items: center;
      gap: 8px;
      flex-wrap: wrap;
    }
    .first {
      min-width: 64px;
      justify-content: center;
    }
    .time {
      font: 600 16px var(--face-mono);
      min-width: 26ch;
      padding-left: 6px;
    }
    .time .quiet {
      font-weight: 400;
      font-size: 12px;
    }
    .field {
      padding: 1px 2px;
    }
    /* Over the foot of the sheet, so that nothing moves when it comes and goes. */
    .busy:not(:empty) {
      position: absolute;
      right: 8px;
      bottom: calc(100% + 8px);
      padding: 1px 8px;
      color: var(--ink-soft);
      background: var(--card);
      border: 1px solid var(--line);
      pointer-events: none;
    }
    .marks {
      display: block;
      width: calc(100% - 16px);
      margin: 6px 8px 0;
      height: 14px;
    }
    path {
      fill: none;
      stroke-width: 1.5;
      vector-effect: non-scaling-stroke;
    }
    .happened {
      stroke: var(--ink);
    }
    .held {
      stroke: var(--pencil-red);
      stroke-width: 2.5;
      stroke-dasharray: 3 2;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Transport {
  /** Whether time is let go from here: not while something else does that. */
  readonly plays = input(true);
  protected readonly playback = inject(Playback);
  protected readonly rehearser = inject(RehearsalStore);
  protected readonly speeds = speeds.map((value) => ({ value, label: `${value}×` }));
  /** One stroke for each tick at which something happened, another where something was held. */
  protected readonly marks = computed(() => {
    const last = Math.max(1, this.playback.last());
    const happened = new Set<number>();
    const held = new Set<number>();
    for (const entry of this.playback.entries())
      (entry.kind === 'held' ? held : happened).add(Math.round((entry.tick / last) * 1000));
    const strokes = (at: Set<number>, from: number): string => [...at].map((x) => `M${x} ${from}V14`).join('');
    return { happened: strokes(happened, 6), held: strokes(held, 0) };
  });
}
