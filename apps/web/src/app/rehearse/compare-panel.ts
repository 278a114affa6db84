import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Revision } from '@nettlewick/contract';
import { Ledger, applied, entrySentence, houseRules, invert, ruleSentence } from '@nettlewick/core';
import type { Entry, HouseRules } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { NzTableModule } from 'ng-zorro-antd/table';
import { Pager, partOf } from '../controls/pager';
import { LevelsApi } from '../saving/levels-api';
import { failureText } from '../workers/api-client';
import { LevelStore } from '../state/level-store';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';
import type { Compared, CompareInput } from '../workers/study';
import { LiveWalk } from './live-walk';
import { Tries } from './tries';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { AnalysisStore } from './studies';
import { Tip } from '../controls/tip';

/** The value of the option for the walk that is shown. */
const SHOWN_WALK = 'shown';
/** The drawing's width in its own units, and the heights of its two lines. */
const WIDTH = 1000;
const LINES = { before: 14, after: 54, height: 68 };
const PAGE_SIZE = 100;

/** What of both stands beside each other, and how they differ. */
interface Row {
  before: Entry | null;
  after: Entry | null;
  how: 'same' | 'earlier' | 'later' | 'missing' | 'new' | 'in another order';
}

/** Two rehearsals side by side: matched by what entries are, on one time axis, and where they part. */
@Component({
  selector: 'nw-compare-panel',
  imports: [Tip, FormsModule, SearchLabel, NzCheckboxModule, NzSelectModule, NzTableModule, Pager],
  templateUrl: './compare-panel.html',
  styleUrl: './compare-panel.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ComparePanel {
  private readonly editor = inject(Editor);
  private readonly rehearser = inject(RehearsalStore);
  private readonly living = inject(LiveWalk);
  private readonly tries = inject(Tries);
  private readonly studies = inject(AnalysisStore);
  private readonly api = inject(LevelsApi);
  protected readonly playback = inject(Playback);
  private readonly store = inject(LevelStore);
  private readonly levelId = this.store.levelId;
  protected readonly before = signal(SHOWN_WALK);
  protected readonly after = signal('');
  protected readonly found = signal<Compared | null>(null);
  protected readonly error = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly all = signal(false);
  private readonly revisions = signal<readonly Revision[]>([]);
  private asked = 0;
  protected readonly lines = LINES;
  protected readonly width = WIDTH;

  protected readonly options = computed(() => {
    const level = this.editor.level();
    const walk = this.rehearser.walk();
    const options = [{ value: SHOWN_WALK, label: 'This rehearsal', groupLabel: 'This walk' }];
    if (this.store.undo().length > 0) options.push({ value: 'before', label: 'before the last edit', groupLabel: 'This walk' });
    for (const seed of [1, 2, 3]) options.push({ value: `seed ${seed}`, label: `with seed ${seed}`, groupLabel: 'This walk' });
    for (const one of this.tries.all()) options.push({ value: one.id, label: one.name, groupLabel: 'Live walk' });
    for (const one of level.walks)
      if (one.id !== walk?.id) options.push({ value: `walk ${one.id}`, label: one.name.trim(), groupLabel: 'another walk' });
    for (const { number, name, savedAt } of this.revisions())
      options.push({
        value: `revision ${number}`,
        label: name ?? `revision ${number}, ${savedAt.slice(0, 16).replace('T', ' ')}`,
        groupLabel: 'an earlier revision',
      });
    for (const [rule, choice] of Object.entries(houseRules.shape) as [keyof HouseRules, { unwrap(): { options: string[] } }][])
      for (const value of choice.unwrap().options)
        if (value !== level.rules[rule])
          options.push({
            value: `rule ${rule} ${value}`,
            label: ruleSentence(rule, value as never),
            groupLabel: 'other house rules',
          });
    return options;
  });

  /** Entries beside each other: all that differ, and what is the same if it is asked for. */
  protected readonly rows = computed<Row[]>(() => {
    let latest = 0;
    return this.beside().flatMap(({ before, after, how }): Row[] => {
      // What comes at the same time, but after something that it came before in the first.
      const moved = how === 'same' && after!.number < latest;
      latest = Math.max(latest, how === 'new' ? 0 : (after?.number ?? 0));
      if (how === 'same' && !moved && !this.all()) return [];
      return [{ before, after, how: moved ? 'in another order' : how }];
    });
  });
  private readonly beside = computed<Row[]>(() => {
    const found = this.found();
    if (found === null) return [];
    const [first, second] = [Ledger.of(found.before), Ledger.of(found.after)];
    return Array.from({ length: found.rows.length / 2 }, (_, row) => {
      const before = first.at(found.rows[row * 2]!) ?? null;
      const after = second.at(found.rows[row * 2 + 1]!) ?? null;
      return { before, after, how: howOf(before, after) };
    });
  });
  /** Where the part of the rows that is listed begins: anew for another comparison. */
  protected readonly first = linkedSignal({ source: () => this.rows(), computation: () => 0 });
  protected readonly atOnce = PAGE_SIZE;
  protected readonly listed = computed(() => {
    const named = (id: string): string => this.editor.nameOf(id).trim();
    const seconds = (entry: Entry | null): string => (entry === null ? '—' : entry.seconds.toFixed(2));
    return partOf(this.rows(), this.first(), PAGE_SIZE).map((row) => ({
      ...row,
      says: entrySentence((row.after ?? row.before)!, named),
      times: `${seconds(row.before)} → ${seconds(row.after)}`,
    }));
  });

  /** Where the two part, in a sentence. */
  protected readonly parting = computed(() => {
    const parting = this.found()?.parting ?? null;
    if (parting === null) return 'No differences.';
    const since = parting.since === null ? '' : `, after “${parting.since}”`;
    const said = (text: string | null): string => (text === null ? 'no more entries' : `“${text}”`);
    return `First difference at ${parting.seconds.toFixed(2)} s${since}. First: ${said(parting.before)}. Second: ${said(parting.after)}.`;
  });

  /** The time axis: a stroke for each entry of either, and a line between the two times of what came at another. */
  protected readonly axis = computed(() => {
    const found = this.found();
    if (found === null) return null;
    const scale = scaleLinear()
      .domain([0, Math.max(0.1, found.seconds)])
      .range([8, WIDTH - 8]);
    const x = (entry: Entry | null): number => (entry === null ? 0 : Math.round(scale(entry.seconds) * 10) / 10);
    const strokes = { same: new Set<string>(), moved: new Set<string>(), missing: new Set<string>(), added: new Set<string>() };
    // What lies at the same place is drawn once.
    for (const { before, after, how } of this.beside()) {
      if (how === 'same') strokes.same.add(`M${x(before)} ${LINES.before - 5}v10M${x(after)} ${LINES.after - 5}v10`);
      else if (how === 'missing') strokes.missing.add(`M${x(before)} ${LINES.before - 8}v16`);
      else if (how === 'new') strokes.added.add(`M${x(after)} ${LINES.after - 8}v16`);
      else strokes.moved.add(`M${x(before)} ${LINES.before}L${x(after)} ${LINES.after}`);
    }
    const [same, moved, missing, added] = Object.values(strokes).map((parts) => [...parts].join(''));
    return { same, moved, missing, added, ticks: scale.ticks(6).map((value) => ({ value, x: scale(value) })) };
  });

  constructor() {
    effect(() => {
      const id = this.levelId();
      if (id !== null)
        untracked(async () => {
          const answer = await this.api.revisions(id);
          if (answer.ok) this.revisions.set(answer.value);
        });
    });
    effect(() => {
      const [before, after] = [this.before(), this.after()];
      // Anew for each rehearsal, but not with each tick that is walked.
      this.rehearser.ran();
      this.rehearser.other();
      this.tries.all();
      if (after !== '') untracked(() => void this.compare(before, after));
    });
  }

  protected swap(): void {
    const [before, after] = [this.before(), this.after()];
    this.before.set(after === '' ? SHOWN_WALK : after);
    this.after.set(before);
  }

  /** Shows the moment of an entry, as far as it is of this rehearsal. */
  protected show({ before, after }: Row): void {
    const own = this.before() === SHOWN_WALK ? before : this.after() === SHOWN_WALK ? after : null;
    if (own !== null) this.playback.show(own.number);
    else {
      const entry = before ?? after;
      const rate = this.rehearser.result()?.rate ?? 60;
      if (entry !== null) this.playback.seek(Math.round(entry.seconds * rate));
    }
  }

  private async compare(before: string, after: string): Promise<void> {
    const asked = (this.asked += 1);
    this.busy.set(true);
    this.error.set(null);
    try {
      const found = await this.studies.compare(await this.sideOf(before), await this.sideOf(after));
      if (asked === this.asked) this.found.set(found);
    } catch (error) {
      if (asked !== this.asked) return;
      this.found.set(null);
      this.error.set(error instanceof Error ? error.message : String(error));
    } finally {
      if (asked === this.asked) this.busy.set(false);
    }
  }

  private async sideOf(chosen: string): Promise<CompareInput> {
    const walk = this.rehearser.walk()?.id ?? '';
    const [kind, first = '', second = ''] = chosen.split(' ');
    const own = this.tries.all().find(({ id }) => id === chosen);
    if (own !== undefined) return { columns: own.rehearsal.ledger.columns() };
    if (kind === 'seed') return { walk, seed: Number(first) };
    if (kind === 'walk') return { walk: first };
    const last = this.store.undo().at(-1);
    if (kind === 'before' && last !== undefined) return { walk, level: applied(this.editor.level(), invert(last)) };
    if (kind === 'rule') return { walk, rules: { [first]: second } };
    if (kind === 'revision') {
      const answer = await this.api.openRevision(this.levelId() ?? '', Number(first));
      if (!answer.ok) throw new Error(failureText(answer));
      return { walk, level: answer.value.level };
    }
    const shown = this.rehearser.result();
    return shown === null ? { walk } : { columns: shown.ledger.columns() };
  }
}

function howOf(before: Entry | null, after: Entry | null): Row['how'] {
  if (before === null) return 'new';
  if (after === null) return 'missing';
  const by = after.seconds - before.seconds;
  return Math.abs(by) < 1e-6 ? 'same' : by < 0 ? 'earlier' : 'later';
}
