import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { applied, emptyLevel, placePiece, setPieces, offered, unitsOf } from '@nettlewick/core';
import type { Answers, Level, Question, SetPiece } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { SmallPlan } from '../board/small-plan';
import { sumOf } from '../sentence/arithmetic';
import { Editor } from '../state/editor';
import { SearchLabel } from '../controls/search-label';

interface ListedPiece {
  piece: SetPiece;
  level: Level;
  only: string[];
}

let known: ListedPiece[] | null = null;

/** Every set piece with a drawing of itself: made of the piece, so that no picture can tell another story; once, when it is asked for. */
function shown(): ListedPiece[] {
  known ??= setPieces.map(drawn);
  return known;
}

function drawn(piece: SetPiece): ListedPiece {
  const empty = { ...emptyLevel('Set piece'), visitors: [], walks: [] };
  let made = 0;
  const where = { room: empty.rooms[0]!.id, at: { x: 0, y: 0 } };
  const { edit, select } = placePiece(empty, piece, where, {}, (prefix) => `made-${prefix}-${(made += 1)}`);
  const level = applied(empty, edit);
  const here = select.filter((id) =>
    [...level.zones, ...level.solids, ...level.fixtures, ...level.visitors].some(
      (one) => one.id === id && one.room === where.room,
    ),
  );
  return { piece, level, only: here };
}

/** Set pieces: one is chosen, its few questions are answered, and it is placed by a press on the plan. */
@Component({
  selector: 'nw-set-piece-panel',
  imports: [FormsModule, SearchLabel, NzSelectModule, SmallPlan],
  templateUrl: './set-piece-panel.html',
  styleUrl: './set-piece-panel.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetPiecePanel {
  readonly chosen = input.required<SetPiece | null>();
  readonly choose = output<SetPiece | null>();
  readonly answered = output<Answers>();
  readonly placed = output();
  readonly closed = output();
  private readonly editor = inject(Editor);
  protected readonly wanted = signal('');
  protected readonly answers = signal<Answers>({});
  protected readonly error = signal<string | null>(null);
  protected readonly found = computed(() => {
    const words = this.wanted().toLowerCase().split(/\s+/).filter(Boolean);
    return shown().filter(({ piece }) => words.every((word) => `${piece.title} ${piece.says}`.toLowerCase().includes(word)));
  });
  protected readonly drawing = computed(() => shown().find(({ piece }) => piece === this.chosen()) ?? null);

  protected take(piece: SetPiece | null): void {
    this.answers.set({});
    this.error.set(null);
    this.answered.emit({});
    this.choose.emit(piece);
  }

  protected optionsOf(question: Question): { value: string; label: string }[] {
    if (question.kind === 'choice') return question.options;
    if (question.kind !== 'thing') return [];
    return [{ value: '', label: question.none }, ...offered(this.editor.level(), question.accepts)];
  }

  protected answerOf(question: Question): string | number {
    const given = this.answers()[question.id];
    if (given !== undefined) return given;
    if (question.kind === 'number') return question.usual;
    return question.kind === 'choice' ? question.options[0]!.value : '';
  }

  protected answer(question: Question, value: string | number): void {
    this.answers.update((all) => ({ ...all, [question.id]: value }));
    this.answered.emit(this.answers());
  }

  protected type(question: Question & { kind: 'number' }, text: string): void {
    const value = sumOf(text, unitsOf(this.editor.level(), question.unit));
    const good = value !== null && value >= question.min && value <= question.max;
    this.error.set(
      good ? null : `“${text}” is not valid. Enter a number from ${question.min} to ${question.max} ${question.unit}.`,
    );
    if (good) this.answer(question, value);
  }
}
