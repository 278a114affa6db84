import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import type { Cell, Covered, Matrix } from '@nettlewick/core';
import { downloadDrawing } from '../board/drawing-file';
import { fileNameOf } from '../studio/download';
import { Editor } from '../studio/editor';
import { notePainted } from '../studio/painted';
import { Places } from '../studio/places';
import { matrixSvg } from './matrix-svg';
import { Playback } from './playback';
import { Rehearser } from './rehearser';
import { Studies } from './studies';

/** So many columns and rows are drawn at most. */
const MOST = 60;

/** Which overlap fires what: everything that sets something off against what it acts on, over all walks. */
@Component({
  selector: 'nw-matrix-sheet',
  templateUrl: './matrix-sheet.html',
  styleUrl: './matrix-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MatrixSheet {
  protected readonly editor = inject(Editor);
  private readonly rehearser = inject(Rehearser);
  private readonly playback = inject(Playback);
  private readonly studies = inject(Studies);
  /** The gap for which a walk is being looked for. */
  protected readonly seeking = signal<string | null>(null);
  private readonly router = inject(Router);
  private readonly places = inject(Places);
  private readonly answer = signal<{ matrix: Matrix; covered: Covered[] } | null>(null);
  protected readonly columns = computed(() =>
    (this.answer()?.matrix.columns ?? []).slice(0, MOST).map((id) => ({ id, name: this.editor.nameOf(id).trim() })),
  );
  protected readonly rows = computed(() =>
    (this.answer()?.matrix.rows ?? []).slice(0, MOST).map((row) => ({
      ...row,
      name: this.editor.nameOf(row.from).trim(),
      cells: this.columns().map(({ id, name }) => {
        const cell = row.cells.get(id);
        return { id, cell, ...(cell === undefined ? nothing : saidOf(cell)), column: name };
      }),
    })),
  );
  protected readonly gaps = computed(() =>
    (this.answer()?.covered ?? [])
      .filter(({ tried, kind }) => !tried && kind !== 'step')
      .map((one) => ({ ...one, name: this.editor.nameOf(one.thing).trim() })),
  );
  protected readonly share = computed(() => {
    const covered = this.answer()?.covered ?? [];
    return covered.length === 0 ? null : Math.round((100 * covered.filter(({ tried }) => tried).length) / covered.length);
  });

  constructor() {
    effect(() => {
      this.rehearser.ran();
      untracked(() => void this.ask());
    });
  }

  private async ask(): Promise<void> {
    this.answer.set(await this.rehearser.overview());
    notePainted('matrix');
  }

  /** A cell that fired goes to the entry, one that was never tried to its chain. */
  protected open(cell: Cell): void {
    const at = cell.first ?? cell.held[0];
    if (at !== undefined && at.walk === this.rehearser.walk()?.id) {
      this.playback.show(at.entry);
      return;
    }
    if (at !== undefined) {
      this.rehearser.choose(at.walk);
      return;
    }
    this.go(cell.chains[0]!);
  }

  /** Looks for a walk that tries what no walk has tried, and adds it to the level. */
  protected async tryIt(gap: Covered & { name: string }): Promise<void> {
    this.seeking.set(gap.kind + gap.thing + gap.part);
    try {
      const { kind, thing, part } = gap;
      const routes = await this.studies.trying({ kind, thing, part });
      if (routes === null) {
        this.editor.say(
          `No way was found to try ${gap.name} by going there, using it, or coming back. Walk it yourself, or draw the walk.`,
        );
        return;
      }
      const id = this.editor.newId('walk');
      const name = this.editor.freeName(`Tries ${gap.name}`);
      this.editor.add('walks', { id, name, atMost: 120, jitter: { start: 0, speed: 0 }, routes, expectations: [] });
      this.rehearser.choose(id);
      this.editor.say(`“${name}” tries it. Undo takes the walk away again.`);
    } catch (error) {
      this.editor.say(`It broke off: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      this.seeking.set(null);
    }
  }

  /** The table as a file of its own. */
  protected async handOn(how: 'svg' | 'png'): Promise<void> {
    const level = this.editor.level().name.trim();
    const svg = matrixSvg({
      title: `${level}: what sets off what, over all walks`,
      columns: this.columns().map(({ name }) => name),
      rows: this.rows().map(({ name, cells }) => ({
        name,
        cells: cells.map(({ sign, says, column }) => ({ sign, says: `${name} on ${column}: ${says}` })),
      })),
    });
    await downloadDrawing(fileNameOf(`${level} matrix`), svg, how);
  }

  protected go(id: string): void {
    this.editor.select(id);
    void this.router.navigate(this.places.path(this.editor.find(id)?.collection === 'chains' ? 'wire' : 'draw'));
  }
}

const nothing = { sign: '', state: '', says: 'not wired' };

function saidOf({ fired, held, chains }: Cell): { sign: string; state: string; says: string } {
  const holding = held.map(({ reason, times }) => `held ${times} times, ${reason}`).join('; ');
  const wired = chains.length === 1 ? '' : ` through ${chains.length} chains`;
  if (fired > 0)
    return { sign: `${fired}×`, state: 'fired', says: `fired ${fired} times${wired}${holding === '' ? '' : `; ${holding}`}` };
  if (held.length > 0) return { sign: '○', state: 'held', says: `tried and ${holding}${wired}` };
  return { sign: '·', state: 'never', says: `wired${wired}, never tried` };
}
