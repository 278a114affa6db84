import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { idsOf, nameKey } from '@nettlewick/core';
import type { Point } from '@nettlewick/core';
import { Editor } from './editor';

/** The most lines kept of a play; the oldest are dropped first. */
const KEPT = 200_000;

interface Line {
  at?: number;
  who?: string;
  x?: number;
  y?: number;
  room?: string;
  kind?: string;
  what?: string;
}

/** What a running game says of a play of this level, as it comes. */
@Injectable()
export class PlayFeed {
  private readonly state = signalState({ count: 0 });
  /** How many lines have come since it was forgotten last. */
  readonly count = this.state.count;
  private readonly editor = inject(Editor);
  private lines: Line[] = [];
  private readonly ids = computed(() => idsOf(this.editor.level()));

  /** The seconds of the play by its last line. */
  readonly seconds = computed(() => {
    this.count();
    return this.lines.at(-1)?.at ?? 0;
  });

  /** What was fired last, the newest first, in words. */
  readonly fired = computed(() => {
    this.count();
    const found: string[] = [];
    for (let i = this.lines.length - 1; i >= 0 && found.length < 5; i--) {
      const { kind, at, who, what } = this.lines[i]!;
      if (kind !== undefined) found.push([`${(at ?? 0).toFixed(2)} s`, kind, who, what].filter(Boolean).join(' '));
    }
    return found;
  });

  take(lines: readonly object[]): void {
    const first = lines[0] as Line | undefined;
    // A play that begins anew: what was before is another.
    if (first?.at !== undefined && first.at + 0.5 < (this.lines.at(-1)?.at ?? 0)) this.forget();
    this.lines.push(...lines);
    if (this.lines.length > KEPT) this.lines.splice(0, this.lines.length - KEPT);
    patchState(this.state, { count: this.lines.length });
  }

  forget(): void {
    this.lines = [];
    patchState(this.state, { count: 0 });
  }

  /** All of it as the text of a log. */
  text(): string {
    return this.lines.map((line) => JSON.stringify(line)).join('\n');
  }

  /** Where the game has its visitors now, as far as it is in a room. */
  pins(room: string): { id: string; at: Point; text: string; label: string }[] {
    this.count();
    const { visitors, all } = this.ids();
    const places = new Map<string, { line: Line; room: string }>();
    for (const line of this.lines.slice(-2000)) {
      const id = visitors.get(nameKey(line.who ?? ''));
      if (id === undefined || line.x === undefined || line.y === undefined) continue;
      const own = this.editor.find(id)!.thing as { room?: string };
      const named = line.room === undefined ? undefined : all.get(nameKey(line.room));
      places.set(id, { line, room: named ?? places.get(id)?.room ?? own.room ?? '' });
    }
    return [...places]
      .filter(([, place]) => place.room === room)
      .map(([id, { line }]) => ({
        id: `played ${id}`,
        at: { x: line.x!, y: line.y! },
        text: this.editor.nameOf(id).trim(),
        label: `${this.editor.nameOf(id).trim()}, where the running game has it at ${(line.at ?? 0).toFixed(2)} s`,
      }));
  }
}
