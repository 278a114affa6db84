import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { whoeverItIs } from '@nettlewick/core';
import type { Act, Cell, Matrix, Row } from '@nettlewick/core';
import { NzTableModule } from 'ng-zorro-antd/table';
import { Editor } from '../state/editor';
import { Pager, firstOf, partOf } from '../controls/pager';

/** The rows and columns per page. */
const ROWS_PER_PAGE = 40;
const COLUMNS_PER_PAGE = 24;
/** The number of steps named in one cell. */
const NAMED_PER_CELL = 5;

/** A cell as it is drawn. */
interface Drawn {
  to: string;
  column: string;
  cell: Cell | undefined;
  state: string;
  sign: string;
  says: string;
  /** What is done, by the events that set it off. */
  events: { on: string; acts: { act: Act; after: string; says: string }[] }[];
  more: number;
}

/** One part of the table, for a file of its own. */
export interface DrawnPart {
  columns: string[];
  rows: { name: string; cells: Drawn[] }[];
}

/** What sets off against what acts: as it is wired, with what is done in which order; or as it came in some runs. */
@Component({
  selector: 'nw-overview-table',
  imports: [NzTableModule, Pager],
  templateUrl: './overview-table.html',
  styleUrl: './overview-table.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OverviewTable {
  readonly matrix = input.required<Matrix>();
  /** Whether cells say what is done, or what came of it. */
  readonly shows = input.required<'wiring' | 'runs'>();
  /** The cell that is looked at. */
  readonly chosen = input<{ from: string; to: string } | null>(null);
  /** A cell was pressed. */
  readonly pressed = output<{ from: string; to: string }>();
  /** What a cell says is done was pressed. */
  readonly asked = output<{ from: string; act: Act }>();
  /** The name of a thing was pressed. */
  readonly named = output<string>();
  private readonly editor = inject(Editor);
  protected readonly wanted = signal('');
  protected readonly row = signal(0);
  protected readonly column = signal(0);
  protected readonly rowsAtOnce = ROWS_PER_PAGE;
  protected readonly columnsAtOnce = COLUMNS_PER_PAGE;

  /** The rows that fit what is sought, by their own names or by those of what they act on. */
  protected readonly fitting = computed<Row[]>(() => {
    const wanted = this.wanted().trim().toLowerCase();
    const { rows } = this.matrix();
    if (wanted === '') return rows;
    const fits = (id: string): boolean => this.nameOf(id).toLowerCase().includes(wanted);
    return rows.flatMap((row) => {
      if (fits(row.from)) return [row];
      const cells = [...row.cells].filter(([to]) => fits(to));
      return cells.length === 0 ? [] : [{ ...row, cells: new Map(cells) }];
    });
  });
  private readonly shownRows = computed(() => partOf(this.fitting(), this.row(), ROWS_PER_PAGE));
  /** What the rows in view act on. */
  protected readonly columns = computed(() => {
    const rows = this.shownRows();
    return this.matrix()
      .columns.filter((to) => rows.some(({ cells }) => cells.has(to)))
      .map((id) => ({ id, name: this.nameOf(id) }));
  });
  protected readonly shownColumns = computed(() => partOf(this.columns(), this.column(), COLUMNS_PER_PAGE));
  protected readonly rows = computed(() =>
    this.shownRows().map((row) => ({
      ...row,
      name: this.nameOf(row.from),
      cells: this.shownColumns().map(({ id, name }) => this.drawn(row, id, name)),
    })),
  );

  /** What is in view, for a file. */
  readonly inView = computed<DrawnPart>(() => ({ columns: this.shownColumns().map(({ name }) => name), rows: this.rows() }));
  /** What is in view of how much, in words; empty where all of it is. */
  readonly partSays = computed(() => {
    const [rows, columns] = [this.fitting().length, this.columns().length];
    const parts = [
      rows > ROWS_PER_PAGE ? `rows from ${firstOf(this.row(), rows, ROWS_PER_PAGE) + 1} of ${rows}` : '',
      columns > COLUMNS_PER_PAGE ? `columns ${firstOf(this.column(), columns, COLUMNS_PER_PAGE) + 1} and on of ${columns}` : '',
    ];
    return parts.filter((part) => part !== '').join(', ');
  });

  protected find(wanted: string): void {
    this.wanted.set(wanted);
    this.row.set(0);
    this.column.set(0);
  }

  private nameOf(id: string): string {
    return nameIn(this.editor, id);
  }

  private drawn(row: Row, to: string, column: string): Drawn {
    const cell = row.cells.get(to);
    if (cell === undefined) return { to, column, cell, state: '', sign: '', says: 'not wired', events: [], more: 0 };
    const name = this.nameOf(row.from);
    const events = new Map<string, Drawn['events'][number]>();
    for (const act of cell.acts.slice(0, NAMED_PER_CELL)) {
      const on = act.on.join(' or ');
      const known = events.get(on) ?? { on, acts: [] };
      known.acts.push({ act, after: afterOf(act), says: `${name} on ${on}: ${this.actSays(act, column)}` });
      events.set(on, known);
    }
    return {
      to,
      column,
      cell,
      ...cameOf(cell),
      events: [...events.values()],
      more: Math.max(0, cell.acts.length - NAMED_PER_CELL),
    };
  }

  /** "open Mill door, step 2 of “Let them in”, 0.5 s later". */
  private actSays(act: Act, column: string): string {
    const through = act.chain === '' ? 'without a chain' : `step ${act.place} of “${this.nameOf(act.chain)}”`;
    return `${act.says} ${column}, ${through}${act.after === 0 ? '' : `, ${act.after} s later`}`;
  }
}

/** What a row or a column is called. */
export function nameIn(editor: Editor, id: string): string {
  return id === whoeverItIs ? id : editor.nameOf(id).trim();
}

function afterOf({ after }: Act): string {
  return after === 0 ? '' : `+${after}\u00a0s`;
}

/** What came of a cell in the runs. */
export function cameOf({ fired, held, chains }: Cell): { sign: string; state: string; says: string } {
  const holding = held.map(({ reason, times }) => `held ${times}×, ${reason}`).join('; ');
  const wired = chains.length < 2 ? '' : ` through ${chains.length} chains`;
  if (fired > 0)
    return {
      sign: `${fired}×${held.length > 0 ? ' ○' : ''}`,
      state: 'fired',
      says: `fired ${fired}×${wired}${holding === '' ? '' : `; ${holding}`}`,
    };
  if (held.length > 0) return { sign: '○', state: 'held', says: `triggered, but ${holding}${wired}` };
  return { sign: '·', state: 'never', says: `wired${wired}, never triggered` };
}
