import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { whoeverItIs } from '@nettlewick/core';
import type { Chain, Covered, Matrix } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { downloadDrawing } from '../board/drawing-file';
import { OverviewTable, cameOf, nameIn } from '../overview/overview-table';
import { Pager, partOf } from '../controls/pager';
import { download, fileNameOf } from '../controls/download';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';
import { notePainted } from '../controls/painted';
import { Views } from '../editing/views';
import { matrixSvg } from './matrix-svg';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { AnalysisStore } from './studies';

/** The number of untried items listed at once. */
const GAPS = 50;

/** An entry of a walk that a cell tells of. */
interface TellsOf {
  walk: string;
  entry: number;
  says: string;
}

/** Which overlap fires what: everything that sets something off against what it acts on, over all walks or one, by anybody or one. */
@Component({
  selector: 'nw-matrix-panel',
  imports: [FormsModule, SearchLabel, NzSelectModule, OverviewTable, Pager],
  templateUrl: './matrix-panel.html',
  styleUrl: './matrix-panel.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MatrixPanel {
  protected readonly editor = inject(Editor);
  private readonly rehearser = inject(RehearsalStore);
  private readonly playback = inject(Playback);
  private readonly studies = inject(AnalysisStore);
  /** The gap for which a walk is being looked for. */
  protected readonly seeking = signal<string | null>(null);
  private readonly places = inject(Views);
  private readonly table = viewChild(OverviewTable);
  protected readonly answer = signal<{ matrix: Matrix; covered: Covered[] } | null>(null);
  /** The walk that is asked about, and the visitor; empty for all of them. */
  protected readonly over = signal('');
  protected readonly by = signal('');
  protected readonly chosen = signal<{ from: string; to: string } | null>(null);
  /** Both ends of the cell that was pressed, to be marked on the plan. */
  readonly ends = computed(() => {
    const chosen = this.chosen();
    return chosen === null ? [] : [chosen.from, chosen.to].filter((id) => id !== whoeverItIs);
  });
  protected readonly gap = signal(0);
  protected readonly gapsAtOnce = GAPS;
  protected readonly walks = computed(() => [
    { value: '', label: 'over all walks' },
    ...this.editor.level().walks.map(({ id, name }) => ({ value: id, label: name.trim() })),
  ]);
  protected readonly visitors = computed(() => [
    { value: '', label: 'By any visitor' },
    ...this.editor.level().visitors.map(({ id, name }) => ({ value: id, label: `By ${name.trim()}` })),
  ]);
  protected readonly note = computed(() => {
    const { from, to } = this.chosen() ?? { from: '', to: '' };
    const cell = this.answer()
      ?.matrix.rows.find((row) => row.from === from)
      ?.cells.get(to);
    if (cell === undefined) return null;
    const target = this.nameOf(to);
    const by = cell.by.map(({ who, fired, held }) => {
      const parts = [fired > 0 ? `${fired}×` : '', held > 0 ? `held ${held}×` : ''].filter((part) => part !== '');
      return `${who === null ? 'nobody' : this.nameOf(who)} ${parts.join(', ')}`;
    });
    const entries: TellsOf[] = cell.held.map(({ reason, walk, entry }) => ({
      walk,
      entry,
      says: `${reason}: entry ${entry} of ${this.nameOf(walk)}`,
    }));
    if (cell.first !== null) {
      const { walk, entry } = cell.first;
      entries.unshift({ walk, entry, says: `first: entry ${entry} of ${this.nameOf(walk)}` });
    }
    return {
      from: this.nameOf(from),
      title: `${this.nameOf(from)} → ${target}`,
      acts: cell.acts.map((act) => ({
        key: act.chain + act.step,
        chain: act.chain,
        says: `on ${act.on.join(' or ')}: ${act.says} ${target}${act.after === 0 ? '' : `, ${act.after} s later`}`,
        through: act.chain === '' ? '' : `step ${act.place} of ${this.nameOf(act.chain)}`,
      })),
      came: cameOf(cell).says,
      by: by.length === 0 ? '' : `: ${by.join('; ')}`,
      entries,
    };
  });
  protected readonly gaps = computed(() =>
    (this.answer()?.covered ?? [])
      .filter(({ tried }) => !tried)
      .map((one) => ({
        ...one,
        key: [one.kind, one.thing, one.part, one.cause].join(' '),
        name: this.nameOf(one.thing),
        says: this.gapSays(one),
      })),
  );
  protected readonly shownGaps = computed(() => partOf(this.gaps(), this.gap(), GAPS));
  protected readonly share = computed(() => {
    const covered = this.answer()?.covered ?? [];
    return covered.length === 0 ? null : Math.round((100 * covered.filter(({ tried }) => tried).length) / covered.length);
  });

  constructor() {
    effect(() => {
      this.rehearser.ran();
      const { walks, visitors } = this.editor.level();
      const [walk, who] = [this.over(), this.by()];
      // What was asked about may be gone from the level meanwhile.
      const over = walks.some(({ id }) => id === walk) ? walk : '';
      const by = visitors.some(({ id }) => id === who) ? who : '';
      untracked(() => void this.ask(over, by));
    });
  }

  private async ask(over: string, by: string): Promise<void> {
    const answer = await this.rehearser.overview(over, by);
    if (answer === null) return;
    this.answer.set(answer);
    notePainted('matrix');
  }

  private nameOf(id: string): string {
    return nameIn(this.editor, id);
  }

  private gapSays({ kind, thing, part, cause }: Covered): string {
    if (kind === 'zone') return 'zone never reached';
    if (kind === 'fixture') return 'fixture never used';
    if (kind === 'chain') return 'chain never starts';
    const { causes = [], steps = [] } = (this.editor.find(thing)?.thing as Chain | undefined) ?? {};
    if (kind === 'gate') {
      const which = cause === null ? 'started by a step' : `cause ${causes.findIndex(({ id }) => id === cause) + 1}`;
      return `${which}, ${part}: no walk`;
    }
    return `step ${steps.findIndex(({ id }) => id === part) + 1}: never run`;
  }

  protected choose(cell: { from: string; to: string }): void {
    const now = this.chosen();
    this.chosen.set(now?.from === cell.from && now.to === cell.to ? null : cell);
  }

  /** Goes to an entry, in its own walk. */
  protected show({ walk, entry }: TellsOf): void {
    this.playback.showIn(walk, { entry });
  }

  /** Looks for a walk that tries what no walk has tried, and adds it to the level. */
  protected async tryIt(gap: Covered & { key: string; name: string }): Promise<void> {
    this.seeking.set(gap.key);
    try {
      const { kind, thing, part, cause } = gap;
      const routes = await this.studies.trying({ kind, thing, part, cause });
      if (routes === null) {
        this.editor.say(`No walk found that covers ${gap.name}. Walk it yourself or draw a walk.`);
        return;
      }
      const { id, name } = this.editor.addWalk(`Tries ${gap.name}`, routes);
      this.rehearser.choose(id);
      this.editor.say(`Added walk “${name}” to cover it. Undo removes it.`);
    } catch (error) {
      this.editor.say(`It broke off: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      this.seeking.set(null);
    }
  }

  /** Every zone, fixture, chain, step and answer of a gate, and whether it was tried: the same lines as the command line's. */
  protected handOnTried(): void {
    const lines = (this.answer()?.covered ?? []).map((one) => `${JSON.stringify(one)}\n`);
    download(`${fileNameOf(`${this.editor.level().name} coverage`)}.jsonl`, lines.join(''), 'application/x-ndjson');
  }

  /** The table as a file of its own. */
  protected async handOn(how: 'svg' | 'png'): Promise<void> {
    const level = this.editor.level().name.trim();
    const table = this.table();
    if (table === undefined) return;
    const { columns, rows } = table.inView();
    const part = table.partSays();
    const whose = `${this.over() === '' ? 'over all walks' : `in ${this.nameOf(this.over())}`}${this.by() === '' ? '' : `, by ${this.nameOf(this.by())}`}`;
    const svg = matrixSvg({
      title: `${level}: triggers and targets, ${whose}${part === '' ? '' : ` (${part})`}`,
      columns,
      rows: rows.map(({ name, cells }) => ({
        name,
        cells: cells.map(({ sign, says, column }) => ({ sign, says: `${name} on ${column}: ${says}` })),
      })),
    });
    await downloadDrawing(fileNameOf(`${level} matrix`), svg, how);
  }

  protected go(id: string): void {
    this.places.show(id);
  }
}
