import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { pathOf, routes } from '@nettlewick/contract';
import { Ledger, entrySentence, quantile, rulesInWords, spreadOf } from '@nettlewick/core';
import type { Dependence, ExplainingSet, Remedy, Spread, Spreading } from '@nettlewick/core';
import { NzInputNumberModule } from 'ng-zorro-antd/input-number';
import { NzTableModule } from 'ng-zorro-antd/table';
import { Pager, firstOf, partOf } from '../controls/pager';
import { Editor } from '../state/editor';
import { LevelStore } from '../state/level-store';
import { PlayFeed } from '../state/play-feed';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import type { Explained } from '../workers/study';
import { SpreadChart } from './spread-chart';
import { AnalysisStore } from './studies';

/** The largest log that is imported, in bytes. */
const MAX_LOG_BYTES = 50_000_000;
/** The number of results shown at once; a drawing has room for as many chains. */
const PAGE_SIZE = 14;
/** The number of log lines shown at once. */
const LOG_ROWS = 40;

/** What goes beyond one rehearsal: other house rules, many varied runs, and what a real game has done. */
@Component({
  selector: 'nw-what-if-panel',
  imports: [FormsModule, NzInputNumberModule, NzTableModule, Pager, SpreadChart],
  templateUrl: './what-if-panel.html',
  styleUrl: './what-if-panel.css',
  host: { 'data-takes': 'import as a play log', '(drop)': 'dropped($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhatIfPanel {
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(RehearsalStore);
  private readonly studies = inject(AnalysisStore);
  protected readonly feed = inject(PlayFeed);
  private readonly levelId = inject(LevelStore).levelId;
  /** Where a running game sends its lines. */
  protected readonly address = computed(() => location.origin + pathOf(routes.tellPlay, { id: this.levelId() ?? '' }));
  protected readonly busy = signal<'' | 'orders' | 'spread' | 'log'>('');
  protected readonly error = signal<string | null>(null);
  private readonly walk = computed(() => this.rehearser.walk()?.id ?? '');

  /** What was found of the orders, while it still holds. */
  protected readonly safety = computed(() => {
    const known = this.studies.safety();
    return known?.walk === this.walk() && known.level === this.editor.level() ? known.found : null;
  });

  protected readonly settings = { runs: 1000, start: 0.5, speed: 20, path: 0.1, rates: '15 30 60' };
  /** The run that is to be opened. */
  protected readonly one = signal(1);
  protected readonly done = signal(0);
  protected readonly spread = signal<{ walk: string; by: Spreading; found: Spread; level: unknown } | null>(null);
  protected readonly remedies = signal<ReadonlyMap<string, readonly Remedy[]>>(new Map());
  protected readonly explained = signal<{ file: string; found: Explained } | null>(null);
  private ended = false;

  protected readonly shownSpread = computed(() => {
    const spread = this.spread();
    return spread?.walk === this.walk() ? spread : null;
  });
  protected readonly isOld = computed(() => this.shownSpread() !== null && this.shownSpread()!.level !== this.editor.level());

  /** Where the parts of long lists that are shown begin: anew for other ones. */
  protected readonly dependence = linkedSignal({ source: this.safety, computation: () => 0 });
  protected readonly chain = linkedSignal({ source: this.spread, computation: () => 0 });
  protected readonly atOnce = PAGE_SIZE;
  protected readonly shownDependences = computed(() => partOf(this.safety()?.dependences ?? [], this.dependence(), PAGE_SIZE));
  protected readonly shownChains = computed(() => partOf(this.shownSpread()?.found.chains ?? [], this.chain(), PAGE_SIZE));

  protected readonly words = rulesInWords;
  protected readonly quantile = quantile;

  protected async findOrders(): Promise<void> {
    await this.during('orders', async () => {
      await this.studies.findOrderSafety(this.walk());
    });
  }

  protected async runSpread(): Promise<void> {
    const { runs, start, speed, path, rates } = this.settings;
    const list = rates
      .split(/[\s,;]+/)
      .map(Number)
      .filter((rate) => rate !== 0);
    if (list.some((rate) => !Number.isInteger(rate) || rate < 1 || rate > 240)) {
      this.error.set('Enter tick rates from 1 to 240, separated by spaces, such as 15 30 60.');
      return;
    }
    const by: Spreading = { start, speed: speed / 100, path, rates: list.length === 0 ? [this.editor.level().rate] : list };
    const [level, walk] = [this.editor.level(), this.walk()];
    this.ended = false;
    this.done.set(0);
    this.remedies.set(new Map());
    await this.during('spread', async () => {
      const found = await this.studies.spread(level, walk, by, runs, (done) => {
        this.done.set(done);
        return !this.ended;
      });
      this.spread.set({ walk, by, found: spreadOf(level, found), level });
      for (const { what, seeds } of this.spread()!.found.misses) {
        const remedies = await this.studies.remedies(level, walk, by, what, seeds);
        this.remedies.update((all) => new Map([...all, [what, remedies]]));
      }
    });
  }

  protected end(): void {
    this.ended = true;
  }

  /** Looks at one run of the spread. */
  protected async open(seed: number): Promise<void> {
    const spread = this.shownSpread();
    if (spread === null) return;
    await this.during('spread', async () => {
      const { columns, ...sent } = await this.studies.oneOf(spread.walk, spread.by, seed);
      this.rehearser.lookAt({
        name: `run ${seed + 1} of the spread, ${sent.rate} ticks a second`,
        rehearsal: { ...sent, ledger: Ledger.of(columns) },
      });
    });
  }

  protected async take(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (file !== undefined) await this.read(file);
  }

  /** A log that is let go of over the sheet is read, too. */
  protected async dropped(event: DragEvent): Promise<void> {
    const file = event.dataTransfer?.files[0];
    if (file === undefined) return;
    event.preventDefault();
    await this.read(file);
  }

  private async read(file: File): Promise<void> {
    if (file.size > MAX_LOG_BYTES) {
      this.error.set(`${file.name} is larger than ${MAX_LOG_BYTES / 1e6} MB. Trim the log and import it again.`);
      return;
    }
    await this.explainLog(file.name, await file.text());
  }

  /** What a running game has sent so far is laid beside the ledger. */
  protected async explainFeed(): Promise<void> {
    await this.explainLog('the running game', this.feed.text());
  }

  private async explainLog(name: string, text: string): Promise<void> {
    await this.during('log', async () => {
      const answer = await this.studies.explain(text);
      if (answer.ok) this.explained.set({ file: name, found: answer.explained });
      else {
        this.explained.set(null);
        const [first] = answer.faults;
        const more = answer.faults.length > 1 ? ` And ${answer.faults.length - 1} more.` : '';
        this.error.set(`${name}, line ${first!.line}: ${first!.message}.${more}`);
      }
    });
  }

  /** Where the part of the rows that is shown begins: just before the first difference. */
  protected readonly logAt = linkedSignal(() => Math.max(0, (this.explained()?.found.first ?? 0) - 4));
  protected readonly logAtOnce = LOG_ROWS;
  protected readonly logRows = computed(() => {
    const explained = this.explained();
    if (explained === null) return [];
    const { rows, first } = explained.found;
    const named = (id: string): string => this.editor.nameOf(id).trim();
    const from = firstOf(this.logAt(), rows.length, LOG_ROWS);
    return partOf(rows, from, LOG_ROWS).map(({ fired, entry }, at) => ({
      isFirst: from + at === first,
      played:
        fired === null
          ? '—'
          : `${fired.at.toFixed(2)} s ${fired.kind}${fired.who === null ? '' : ` ${named(fired.who)}`}${fired.what === null ? '' : ` ${named(fired.what)}`}`,
      said: entry === null ? '—' : `${entry.seconds.toFixed(2)} s ${entrySentence(entry, named)}`,
    }));
  });
  protected readonly verdict = computed(() => {
    const found = this.explained()?.found;
    if (found === undefined) return '';
    const [nearest] = found.simplest;
    if (nearest === undefined) return 'No set of house rules matches the log. The game differs in another way.';
    if (nearest.rules.length === 0) return 'The log matches this level’s house rules.';
    const ways = found.simplest.length === 1 ? '' : `, in ${found.simplest.length} ways`;
    return `Other house rules explain the log${ways} (${found.sets} ${found.sets === 1 ? 'set matches' : 'sets match'}):`;
  });
  /** The ways in which other house rules explain the log, in words. */
  protected readonly ways = computed(() => {
    const now = this.editor.level().rules;
    return (this.explained()?.found.simplest ?? [])
      .filter(({ rules }) => rules.length > 0)
      .map((one) => {
        const from = Object.fromEntries(one.rules.map((rule) => [rule, now[rule]]));
        return { one, says: rulesInWords({ rules: one.rules, from, to: one.set }).otherwise };
      });
  });

  /** Gives the level the house rules that explain the log. */
  protected adopt({ set }: ExplainingSet): void {
    const before = this.editor.level().rules;
    this.editor.edit({ kind: 'level', before: { rules: before }, after: { rules: set } });
  }

  protected ruleNames({ rules }: Dependence): string {
    return rules.length === 1 ? 'one house rule decides' : `${rules.length} house rules together decide`;
  }

  private async during(what: 'orders' | 'spread' | 'log', work: () => Promise<void>): Promise<void> {
    this.busy.set(what);
    this.error.set(null);
    try {
      await work();
    } catch (error) {
      this.error.set(`It broke off: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      this.busy.set('');
    }
  }
}
