import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Revision } from '@nettlewick/contract';
import { entrySentence, houseRules, ruleSentence } from '@nettlewick/core';
import type { Entry, HouseRules } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { LevelsApi } from '../saving/levels-api';
import { failureText } from '../saving/asking';
import { LevelStore } from '../state/level-store';
import { Editor } from '../studio/editor';
import { Named } from '../studio/named';
import type { Compared, Side } from '../workers/study';
import { Living } from './living';
import { Playback } from './playback';
import { Rehearser } from './rehearser';
import { Studies } from './studies';
import { Tip } from '../studio/tip';

/** What the option says for which a side is chosen: the walk that is looked at. */
const SHOWN = 'shown';
/** The drawing's width in its own units, and the heights of its two lines. */
const WIDTH = 1000;
const LINES = { before: 14, after: 54, height: 68 };
const AT_ONCE = 300;

interface Line {
  before: Entry | null;
  after: Entry | null;
  how: 'same' | 'earlier' | 'later' | 'missing' | 'new' | 'in another order';
  says: string;
  times: string;
}

/** Two rehearsals side by side: matched by what entries are, on one time axis, and where they part. */
@Component({
  selector: 'nw-compare-sheet',
  imports: [Tip, FormsModule, Named, NzCheckboxModule, NzSelectModule],
  templateUrl: './compare-sheet.html',
  styleUrl: './compare-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CompareSheet {
  private readonly editor = inject(Editor);
  private readonly rehearser = inject(Rehearser);
  private readonly living = inject(Living);
  private readonly studies = inject(Studies);
  private readonly api = inject(LevelsApi);
  protected readonly playback = inject(Playback);
  private readonly levelId = inject(LevelStore).levelId;
  protected readonly before = signal(SHOWN);
  protected readonly after = signal('');
  protected readonly found = signal<Compared | null>(null);
  protected readonly wrong = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly all = signal(false);
  private readonly revisions = signal<readonly Revision[]>([]);
  private asked = 0;
  protected readonly lines = LINES;
  protected readonly width = WIDTH;

  protected readonly options = computed(() => {
    const level = this.editor.level();
    const walk = this.rehearser.walk();
    const options = [{ value: SHOWN, label: 'what is shown', groupLabel: 'this walk' }];
    for (const seed of [1, 2, 3]) options.push({ value: `seed ${seed}`, label: `with seed ${seed}`, groupLabel: 'this walk' });
    for (const one of this.living.tries()) options.push({ value: one.id, label: one.name, groupLabel: 'walked by hand' });
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

  protected readonly rows = computed<Line[]>(() => {
    const found = this.found();
    if (found === null) return [];
    const named = (id: string): string => this.editor.nameOf(id).trim();
    const seconds = (entry: Entry | null): string => (entry === null ? '—' : entry.seconds.toFixed(2));
    let latest = 0;
    return found.rows.flatMap(({ before, after }): Line[] => {
      let how = howOf(before, after);
      // What comes at the same time, but after something that it came before in the first.
      if (how === 'same' && after!.number < latest) how = 'in another order';
      latest = Math.max(latest, how === 'new' ? 0 : (after?.number ?? 0));
      if (how === 'same' && !this.all()) return [];
      return [
        {
          before,
          after,
          how,
          says: entrySentence((after ?? before)!, named),
          times: `${seconds(before)} → ${seconds(after)}`,
        },
      ];
    });
  });
  protected readonly listed = computed(() => this.rows().slice(0, AT_ONCE));

  /** Where the two part, in a sentence. */
  protected readonly parting = computed(() => {
    const parting = this.found()?.parting ?? null;
    if (parting === null) return 'Both say the same, entry by entry.';
    const since = parting.since === null ? '' : `, after “${parting.since}”`;
    const said = (text: string | null): string => (text === null ? 'nothing more' : `“${text}”`);
    return `First difference at ${parting.seconds.toFixed(2)} s${since}: the first says ${said(parting.before)}, the second ${said(parting.after)}.`;
  });

  /** The time axis: a stroke for each entry of either, and a line between the two times of what came at another. */
  protected readonly axis = computed(() => {
    const found = this.found();
    if (found === null) return null;
    const scale = scaleLinear()
      .domain([0, Math.max(0.1, found.seconds)])
      .range([8, WIDTH - 8]);
    const x = (entry: Entry): number => Math.round(scale(entry.seconds) * 10) / 10;
    let same = '';
    let moved = '';
    let missing = '';
    let added = '';
    for (const { before, after } of found.rows) {
      const how = howOf(before, after);
      if (how === 'same') same += `M${x(before!)} ${LINES.before - 5}v10M${x(after!)} ${LINES.after - 5}v10`;
      else if (how === 'missing') missing += `M${x(before!)} ${LINES.before - 8}v16`;
      else if (how === 'new') added += `M${x(after!)} ${LINES.after - 8}v16`;
      else moved += `M${x(before!)} ${LINES.before}L${x(after!)} ${LINES.after}`;
    }
    return { same, moved, missing, added, ticks: scale.ticks(6).map((value) => ({ value, x: scale(value) })) };
  });

  constructor() {
    effect(() => {
      const id = this.levelId();
      if (id !== null)
        untracked(async () => {
          const answer = await this.api.revisions(id);
          if (answer.ok) this.revisions.set(answer.value.slice(0, 20));
        });
    });
    effect(() => {
      const [before, after] = [this.before(), this.after()];
      // Anew for each rehearsal, but not with each tick that is walked.
      this.rehearser.ran();
      this.rehearser.other();
      this.living.tries();
      if (after !== '') untracked(() => void this.compare(before, after));
    });
  }

  protected swap(): void {
    const [before, after] = [this.before(), this.after()];
    this.before.set(after === '' ? SHOWN : after);
    this.after.set(before);
  }

  /** Shows the moment of an entry, as far as it is of what is shown. */
  protected show({ before, after }: Line): void {
    const own = this.before() === SHOWN ? before : this.after() === SHOWN ? after : null;
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
    this.wrong.set(null);
    try {
      const found = await this.studies.compare(await this.sideOf(before), await this.sideOf(after));
      if (asked === this.asked) this.found.set(found);
    } catch (error) {
      if (asked !== this.asked) return;
      this.found.set(null);
      this.wrong.set(error instanceof Error ? error.message : String(error));
    } finally {
      if (asked === this.asked) this.busy.set(false);
    }
  }

  private async sideOf(chosen: string): Promise<Side> {
    const walk = this.rehearser.walk()?.id ?? '';
    const [kind, first = '', second = ''] = chosen.split(' ');
    const own = this.living.tries().find(({ id }) => id === chosen);
    if (own !== undefined) return { columns: own.rehearsal.ledger.columns() };
    if (kind === 'seed') return { walk, seed: Number(first) };
    if (kind === 'walk') return { walk: first };
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

function howOf(before: Entry | null, after: Entry | null): Line['how'] {
  if (before === null) return 'new';
  if (after === null) return 'missing';
  const by = after.seconds - before.seconds;
  return Math.abs(by) < 1e-6 ? 'same' : by < 0 ? 'earlier' : 'later';
}
