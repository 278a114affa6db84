import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { LevelSummary } from '@nettlewick/contract';
import { emptyLevel, nameSchema, parseLevelText, repairLevel } from '@nettlewick/core';
import type { Fault, Level } from '@nettlewick/core';
import { failureText } from '../workers/api-client';
import { SmallPlan } from '../board/small-plan';
import { LevelsApi } from '../saving/levels-api';
import { DroppedFile } from '../controls/dropped-file';
import { Pager, partOf } from '../controls/pager';
import { Theme } from '../state/theme';
import { WorkedExamples } from './worked-examples';
import type { WorkedExample } from './worked-examples';

/** For how many levels a small plan is drawn. */
const DRAWN = 6;
/** The number of levels listed at once. */
const LISTED = 48;
/** Up to this number of levels, the page explains how to begin. */
const NEWCOMER_LEVELS = 2;
/** The number of errors of a file listed at once. */
const FAULTS = 50;

/** The first screen: what Nettlewick is for, and the levels that are here. */
@Component({
  selector: 'nw-levels-page',
  imports: [DatePipe, Pager, RouterLink, SmallPlan],
  templateUrl: './levels-page.html',
  styleUrl: './levels-page.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LevelsPage {
  private readonly api = inject(LevelsApi);
  private readonly router = inject(Router);
  protected readonly theme = inject(Theme);
  protected readonly few = NEWCOMER_LEVELS;
  protected readonly levels = signal<LevelSummary[] | null>(null);
  protected readonly wanted = signal('');
  protected readonly found = computed(() => {
    const wanted = this.wanted().trim().toLowerCase();
    return (this.levels() ?? []).filter(({ name }) => name.toLowerCase().includes(wanted));
  });
  /** The levels that are listed begin anew for other words. */
  protected readonly from = linkedSignal({ source: this.wanted, computation: () => 0 });
  protected readonly drawn = DRAWN;
  protected readonly listedAtOnce = LISTED;
  protected readonly listed = computed(() => partOf(this.found(), this.from(), LISTED));
  protected readonly deleted = signal<LevelSummary[]>([]);
  protected readonly error = signal<string | null>(null);
  protected readonly wrongName = signal<string | null>(null);
  /** What is wrong with a file that was not opened, and what of it could be. */
  protected readonly faults = signal<{ file: string; faults: Fault[]; saved: ReturnType<typeof repairLevel> } | null>(null);
  /** Where the parts of long lists that are shown begin: anew for another file. */
  protected readonly fault = linkedSignal({ source: this.faults, computation: () => 0 });
  protected readonly loss = linkedSignal({ source: this.faults, computation: () => 0 });
  protected readonly faultsAtOnce = FAULTS;
  protected readonly shownFaults = computed(() => partOf(this.faults()?.faults ?? [], this.fault(), FAULTS));
  protected readonly shownLosses = computed(() => partOf(this.faults()?.saved?.lost ?? [], this.loss(), FAULTS));
  protected readonly renaming = signal<string | null>(null);

  private readonly worked = inject(WorkedExamples);
  protected readonly examples = signal<WorkedExample[]>([]);
  private readonly drawing = new Set<string>();
  protected readonly plans = signal<ReadonlyMap<string, Level>>(new Map());
  private readonly dropped = inject(DroppedFile);
  /** Whether a secret was asked for, so that there is a session to be ended; and whether it was. */
  protected readonly session = signal<'none' | 'open' | 'over'>('none');

  constructor() {
    void this.load();
    effect(() => void this.draw(this.listed().slice(0, DRAWN)));
    effect(() => {
      if (this.dropped.waiting().length > 0) untracked(() => void this.read(this.dropped.taken()!));
    });
    void this.worked.list().then((list) => this.examples.set(list));
    void this.api.session().then((answer) => answer.ok && answer.value.asked && this.session.set('open'));
  }

  protected async logOut(): Promise<void> {
    const answer = await this.api.logOut();
    if (answer.ok) this.session.set('over');
    else this.error.set(failureText(answer));
  }

  protected async load(): Promise<void> {
    const [levels, deleted] = await Promise.all([this.api.list(), this.api.list(true)]);
    this.error.set(levels.ok ? null : failureText(levels));
    if (levels.ok) {
      this.levels.set(levels.value);
    }
    if (deleted.ok) this.deleted.set(deleted.value);
  }

  /** Draws the first levels that are listed, one after the other. */
  private async draw(levels: LevelSummary[]): Promise<void> {
    for (const { id } of levels) {
      if (this.drawing.has(id)) continue;
      this.drawing.add(id);
      const level = await this.api.small(id);
      if (level !== null) this.plans.update((plans) => new Map([...plans, [id, level]]));
    }
  }

  /** Opens a worked example as a level of one's own. */
  protected async openExample(file: string): Promise<void> {
    const level = await this.worked.open(file);
    if (level === null) this.error.set('Could not load this example. Check that the server is running.');
    else await this.store(level);
  }

  protected async create(name: string): Promise<void> {
    const read = nameSchema.safeParse(name.trim());
    this.wrongName.set(read.success ? null : (read.error.issues[0]?.message ?? 'This name is not allowed.'));
    if (read.success) await this.store(emptyLevel(read.data));
  }

  protected async take(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (file !== undefined) await this.read(file);
  }

  private async read(file: File): Promise<void> {
    const text = await file.text();
    const parsed = parseLevelText(text);
    this.faults.set(parsed.ok ? null : { file: file.name, faults: parsed.faults, saved: repairLevel(text) });
    if (parsed.ok) await this.store(parsed.level);
  }

  /** Opens what could be saved of a broken file, as a level of its own. */
  protected async openSaved(level: Level): Promise<void> {
    this.faults.set(null);
    await this.store(level);
  }

  protected async rename(level: LevelSummary, name: string): Promise<void> {
    if (this.renaming() !== level.id) return;
    this.renaming.set(null);
    if (name.trim() === level.name) return;
    const answer = await this.api.rename(level.id, level.etag, name.trim());
    await this.load();
    if (!answer.ok) this.error.set(failureText(answer));
  }

  protected async remove(level: LevelSummary): Promise<void> {
    const answer = await this.api.remove(level.id);
    await this.load();
    if (!answer.ok) this.error.set(failureText(answer));
  }

  protected async restore(level: LevelSummary): Promise<void> {
    const answer = await this.api.restore(level.id);
    await this.load();
    if (!answer.ok) this.error.set(failureText(answer));
  }

  private async store(level: Level): Promise<void> {
    const answer = await this.api.create(level);
    if (answer.ok) await this.router.navigate(['/levels', answer.value.id, 'draw']);
    else this.error.set(failureText(answer));
  }
}
