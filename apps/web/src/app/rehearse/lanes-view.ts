import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal, viewChild } from '@angular/core';
import { lanesOf, wordOf } from '@nettlewick/core';
import type { Lane, Lasting } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { Editor } from '../studio/editor';
import { Playback } from './playback';
import { Rehearser } from './rehearser';
import { Studies } from './studies';

/** The height of a row of bars, and of the ruler, in pixels; how wide the names are. */
const ROW = 18;
const RULER = 20;
const NAMES = 150;
/** More lanes than this are not drawn. */
const DRAWN = 200;

interface Drawn {
  /** Where what hangs on a house rule begins. */
  doubts: { entry: number; x: number; y: number }[];
  lane: Lane;
  name: string;
  word: string;
  top: number;
  height: number;
  bars: { span: Lasting; x: number; width: number; y: number; title: string }[];
  marks: { entry: number; held: boolean; x: number }[];
}

/** What everything was along one time axis: bars for what lasts, strokes for instants, a ring for what was held. */
@Component({
  selector: 'nw-lanes-view',
  templateUrl: './lanes-view.html',
  styleUrl: './lanes-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LanesView {
  private readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(Rehearser);
  private readonly scroller = viewChild<ElementRef<HTMLElement>>('scroller');
  protected readonly zoom = signal(1);
  protected readonly folded = signal<ReadonlySet<Lane['group']>>(new Set());
  protected readonly names = NAMES;
  protected readonly ruler = RULER;

  private readonly studies = inject(Studies);
  private readonly lanes = computed(() => {
    const result = this.rehearser.result();
    return result === null ? [] : lanesOf(this.editor.level(), result.ledger, result.ticks);
  });
  protected readonly width = computed(() => 620 * this.zoom());
  protected readonly perTick = computed(() => this.width() / Math.max(1, this.playback.last()));
  protected readonly groups = computed(() => [...new Set(this.lanes().map(({ group }) => group))]);
  protected readonly drawn = computed<Drawn[]>(() => {
    const scale = this.perTick();
    const folded = this.folded();
    const hangs = this.studies.hangs();
    let top = RULER;
    return this.lanes()
      .filter(({ group }) => !folded.has(group))
      .slice(0, DRAWN)
      .map((lane) => {
        const height = Math.max(1, lane.rows.length) * ROW + 4;
        const bars = lane.rows.flatMap((row, r) =>
          row.map((span) => ({
            span,
            x: span.from * scale,
            width: Math.max(3, (span.to - span.from) * scale),
            y: r * ROW + 3,
            title: `${span.says}, ${this.seconds(span.from)} to ${this.seconds(span.to)} s`,
          })),
        );
        const marks = lane.instants.map(({ tick, entry, held }) => ({ entry, held, x: tick * scale }));
        // What hangs on a house rule is marked, where it begins.
        const doubts = [
          ...lane.rows.flatMap((row, r) => row.map(({ entry, from }) => ({ entry, x: from * scale, y: r * ROW + 12 }))),
          ...lane.instants.map(({ entry, tick }) => ({ entry, x: tick * scale, y: 12 })),
        ].filter(({ entry }) => hangs.has(entry));
        const found = this.editor.find(lane.thing);
        const drawn = {
          lane,
          name: this.editor.nameOf(lane.thing).trim(),
          word: found === undefined ? '' : wordOf(found.collection, found.thing),
        };
        const placed = { ...drawn, top, height, bars, marks, doubts };
        top += height;
        return placed;
      });
  });
  protected readonly height = computed(() => {
    const last = this.drawn().at(-1);
    return (last === undefined ? RULER : last.top + last.height) + 4;
  });
  protected readonly ticks = computed(() => {
    const seconds = this.playback.last() / (this.rehearser.result()?.rate ?? 60);
    return scaleLinear()
      .domain([0, seconds])
      .ticks(Math.round(this.width() / 90))
      .map((value) => ({ value, x: (value / Math.max(seconds, 0.001)) * this.width() }));
  });
  protected readonly playhead = computed(() => this.playback.tick() * this.perTick());

  protected toggle(group: Lane['group']): void {
    this.folded.update((now) => {
      const next = new Set(now);
      if (!next.delete(group)) next.add(group);
      return next;
    });
  }

  protected zoomBy(factor: number): void {
    this.zoom.update((now) => Math.min(64, Math.max(1, now * factor)));
    setTimeout(() => this.scroller()?.nativeElement.scrollTo({ left: this.playhead() - 200 }));
  }

  /** A press on the axis goes to that tick. */
  protected seek(event: MouseEvent): void {
    const box = (event.currentTarget as Element).getBoundingClientRect();
    this.playback.seek((event.clientX - box.left) / this.perTick());
  }

  private seconds(tick: number): string {
    return (tick / (this.rehearser.result()?.rate ?? 60)).toFixed(2);
  }
}
