import { CdkDrag, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { entrySentence, expressions, lanesOf, orderInTick, ruleSentence, valuesOf, wordOf } from '@nettlewick/core';
import type { Lane, Lasting, Since } from '@nettlewick/core';
import { FormsModule } from '@angular/forms';
import { scaleLinear } from 'd3-scale';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { SearchLabel } from '../controls/search-label';
import { Pager, firstOf, partOf } from '../controls/pager';
import { inkedSvg } from '../board/inked-svg';
import { Editor } from '../state/editor';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { AnalysisStore } from './studies';

/** The height of a row of bars, and of the ruler, in pixels; how wide the names are. */
const ROW = 18;
const RULER = 20;
const NAMES = 150;
/** The number of lanes drawn at once. */
const DRAWN = 100;

/** The number of entries listed for one tick. */
const IN_TICK = 40;

interface Drawn {
  /** Where what hangs on a house rule begins. */
  doubts: { entry: number; x: number; y: number }[];
  lane: Lane;
  name: string;
  /** Whether it was asked for, and can be taken away. */
  isAdded: boolean;
  word: string;
  top: number;
  height: number;
  bars: { span: Lasting; x: number; width: number; y: number; title: string }[];
  marks: { entry: number; held: boolean; title: string; x: number }[];
}

/** What everything was along one time axis: bars for what lasts, strokes for instants, a ring for what was held. */
@Component({
  selector: 'nw-lanes-view',
  imports: [CdkDrag, CdkDragHandle, CdkDropList, FormsModule, SearchLabel, NzSelectModule, Pager],
  templateUrl: './lanes-view.html',
  styleUrl: './lanes-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LanesView {
  private readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(RehearsalStore);
  private readonly scroller = viewChild<ElementRef<HTMLElement>>('scroller');
  protected readonly zoom = signal(1);
  /** The things in the order in which their lanes were put; empty while they are as they come. */
  private readonly order = signal<readonly string[]>([]);
  protected readonly folded = signal<ReadonlySet<Lane['group']>>(new Set());
  protected readonly names = NAMES;
  protected readonly ruler = RULER;

  private readonly studies = inject(AnalysisStore);
  private readonly lanes = computed(() => {
    const result = this.rehearser.result();
    return result === null ? [] : [...this.added(), ...lanesOf(this.editor.level(), result.ledger, result.ticks)];
  });
  /** The conditions whose lanes were added, in the order in which they were. */
  protected readonly wanted = signal<readonly string[]>([]);
  private readonly answers = signal<ReadonlyMap<string, readonly Since[]>>(new Map());
  /** Every value of the level, and every condition in it, by the text that asks for it. */
  private readonly askable = computed(() => {
    const level = this.editor.level();
    const words = { load: 'load on', inside: 'how many inside', value: 'value of', on: 'is on:' };
    const values = valuesOf(level).map(({ of, what, text }) => ({
      text,
      label: `${words[what]} ${this.editor.nameOf(of).trim()}`,
      group: 'values',
    }));
    const conditions = expressions(level).map(({ from, text }) => ({
      text,
      label: `condition of ${this.editor.nameOf(from).trim()}`,
      group: 'conditions',
    }));
    return new Map([...conditions, ...values].map((one) => [one.text, one]));
  });
  protected readonly adding = signal<string | null>(null);
  protected readonly addable = computed(() =>
    [...this.askable().values()]
      .filter(({ text }) => !this.wanted().includes(text))
      .map(({ text, label, group }) => ({ value: text, label, groupLabel: group })),
  );
  private readonly added = computed(() =>
    this.wanted().flatMap((text): Lane[] => {
      const since = this.answers().get(text);
      const last = this.rehearser.result()?.ticks ?? 0;
      if (since === undefined) return [];
      const isValue = this.askable().get(text)?.group === 'values' && !text.startsWith('flag');
      const spans = since.flatMap(({ tick, holds, read }, at): Lasting[] => {
        const says = isValue ? (read[0]?.split(' = ')[1] ?? '') : holds ? 'holds' : '';
        if (says === '' || says === '0') return [];
        return [{ from: tick, to: since[at + 1]?.tick ?? last, entry: -1 - tick, says }];
      });
      return [{ thing: text, group: 'facts', rows: [spans], instants: [] }];
    }),
  );
  protected readonly width = computed(() => 620 * this.zoom());
  protected readonly perTick = computed(() => this.width() / Math.max(1, this.playback.last()));
  protected readonly groups = computed(() => [...new Set(this.lanes().map(({ group }) => group))]);
  /** The lanes of the groups that are not folded, in the order in which they are to stand. */
  protected readonly standing = computed<Lane[]>(() => {
    const folded = this.folded();
    const lanes = this.lanes().filter(({ group }) => !folded.has(group));
    const rank = new Map(this.order().map((thing, at) => [thing, at]));
    // A sort leaves in their order what was never put elsewhere.
    return rank.size === 0
      ? lanes
      : lanes.toSorted((a, b) => (rank.get(a.thing) ?? rank.size) - (rank.get(b.thing) ?? rank.size));
  });
  /** The first lane of those that are drawn. */
  protected readonly first = signal(0);
  protected readonly atOnce = DRAWN;
  protected readonly drawn = computed<Drawn[]>(() => {
    const scale = this.perTick();
    const hangs = this.studies.hangs();
    let top = RULER;
    return partOf(this.standing(), this.first(), DRAWN).map((lane) => {
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
      const marks = lane.instants.map(({ tick, entry, held }) => {
        const title = `entry ${entry}${held ? ', held' : ''}`;
        return { entry, held, title, x: tick * scale };
      });
      // What hangs on a house rule is marked, where it begins.
      const doubts = [
        ...lane.rows.flatMap((row, r) => row.map(({ entry, from }) => ({ entry, x: from * scale, y: r * ROW + 12 }))),
        ...lane.instants.map(({ entry, tick }) => ({ entry, x: tick * scale, y: 12 })),
      ].filter(({ entry }) => hangs.has(entry));
      const found = this.editor.find(lane.thing);
      const drawn = {
        lane,
        name: this.askable().get(lane.thing)?.label ?? this.editor.nameOf(lane.thing).trim(),
        isAdded: this.askable().has(lane.thing),
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
  /** What happens in the tick that is shown, side by side in its order, with what put it there. */
  private readonly ofTick = computed(() => {
    this.playback.entries();
    return orderInTick(this.playback.ledger(), this.playback.tick());
  });
  protected readonly moreInTick = computed(() => Math.max(0, this.ofTick().length - IN_TICK));
  protected readonly inTick = computed(() => {
    const { rules } = this.editor.level();
    return this.ofTick()
      .slice(0, IN_TICK)
      .map(({ entry, phase, rule }) => ({
        entry,
        phase,
        says: entrySentence(entry, (id) => this.editor.nameOf(id).trim(), this.editor.level()),
        rule: rule === null ? '' : ruleSentence(rule, rules[rule]),
      }));
  });
  /** The causes of the entry that was chosen, from lane to lane: where each stands in its own. */
  protected readonly trail = computed(() => {
    const scale = this.perTick();
    const tops = new Map(this.drawn().map((one) => [one.lane.thing, one.top]));
    const points = this.playback.trail().flatMap(({ entry }) => {
      const top = [entry.what, entry.chain, entry.who].flatMap((id) => (id === null ? [] : (tops.get(id) ?? [])))[0];
      return top === undefined ? [] : [{ x: entry.tick * scale, y: top + 11 }];
    });
    return points.length < 2 ? '' : points.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y}`).join('');
  });
  /** A span of time that was drawn along the axis, in ticks. */
  protected readonly span = signal<{ from: number; to: number } | null>(null);
  protected readonly spanSays = computed(() => {
    const span = this.span();
    if (span === null) return '';
    const ticks = Math.abs(span.to - span.from);
    return `${(ticks / (this.rehearser.result()?.rate ?? 60)).toFixed(3)} s, ${ticks} ${ticks === 1 ? 'tick' : 'ticks'}`;
  });
  protected readonly playhead = computed(() => this.playback.tick() * this.perTick());

  constructor() {
    // Values are found anew with each rehearsal of the walk.
    effect(() => {
      const walk = this.rehearser.ran()?.walk;
      const texts = this.wanted();
      if (walk === undefined || texts.length === 0) return;
      untracked(async () => {
        try {
          const found = await this.studies.over(walk, texts);
          this.answers.set(new Map(texts.map((text, at) => [text, found[at]!])));
        } catch {
          this.answers.set(new Map());
        }
      });
    });
  }

  /** The lanes that are shown as an SVG of their own; null before they are drawn. */
  svg(): string | null {
    const drawing = this.scroller()?.nativeElement.querySelector('svg');
    if (drawing === null || drawing === undefined) return null;
    return inkedSvg(drawing, { width: NAMES, words: this.drawn().map(({ name, top }) => ({ text: name, y: top + 14 })) });
  }

  protected dropped({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.move(previousIndex, currentIndex);
  }

  /** Puts a lane elsewhere among those that are shown. */
  protected move(from: number, to: number): void {
    const things = this.standing().map(({ thing }) => thing);
    const first = firstOf(this.first(), things.length, DRAWN);
    const moved = things[first + from];
    if (moved === undefined || to < 0 || to >= this.drawn().length || from === to) return;
    this.order.set(things.toSpliced(first + from, 1).toSpliced(first + to, 0, moved));
    setTimeout(() => document.querySelector<HTMLElement>(`nw-lanes-view li:nth-child(${to + 1}) .grip`)?.focus());
  }

  protected gripKey(event: KeyboardEvent, at: number): void {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    this.move(at, at + by);
  }

  protected add(text: string | null): void {
    if (text === null || text === '') return;
    this.wanted.update((all) => [...all, text]);
    // The list says nothing chosen again: it only adds.
    this.adding.set(text);
    setTimeout(() => this.adding.set(null));
  }

  protected takeAway(text: string): void {
    this.wanted.update((all) => all.filter((one) => one !== text));
  }

  /** A bar of an added lane has no entry of its own: it shows its moment. */
  protected press({ entry, from }: Lasting): void {
    if (entry > 0) this.playback.show(entry);
    else this.playback.seek(from);
  }

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

  /** A press on the axis goes to that tick; a drag along it measures a span. */
  protected seek(event: PointerEvent): void {
    const axis = event.currentTarget as Element;
    const tickAt = (x: number): number => {
      const at = Math.round((x - axis.getBoundingClientRect().left) / this.perTick());
      return Math.max(0, Math.min(this.playback.last(), at));
    };
    const from = tickAt(event.clientX);
    this.playback.seek(from);
    this.span.set(null);
    axis.setPointerCapture(event.pointerId);
    const move = (moved: Event): void => {
      const to = tickAt((moved as PointerEvent).clientX);
      this.span.set(to === from ? null : { from, to });
    };
    axis.addEventListener('pointermove', move);
    const end = (): void => axis.removeEventListener('pointermove', move);
    axis.addEventListener('pointerup', end, { once: true });
    axis.addEventListener('pointercancel', end, { once: true });
  }

  private seconds(tick: number): string {
    return (tick / (this.rehearser.result()?.rate ?? 60)).toFixed(2);
  }
}
