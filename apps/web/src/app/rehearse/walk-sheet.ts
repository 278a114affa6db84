import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { change, describe, instructionPhrase } from '@nettlewick/core';
import type { Instruction, Walk } from '@nettlewick/core';
import { tidy } from '../board/handles';
import type { Point } from '../board/viewport';
import { NameField } from '../sentence/name-field';
import { Sentence } from '../sentence/sentence';
import { Editor } from '../studio/editor';
import { Mark } from '../studio/mark';
import { Playback } from './playback';
import { Rehearser } from './rehearser';

/** The walk itself: for each visitor in it, what it does, one thing after another. */
@Component({
  selector: 'nw-walk-sheet',
  imports: [Mark, NameField, Sentence],
  templateUrl: './walk-sheet.html',
  styleUrl: './walk-sheet.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WalkSheet {
  readonly walk = input.required<Walk>();
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(Rehearser);
  /** What became of the walk's expectations in the latest rehearsal. */
  protected readonly expected = computed(() => {
    const result = this.rehearser.result();
    return result?.walk === this.walk().id ? result.expectations : [];
  });
  protected readonly met = computed(() => this.expected().filter((one) => one.passed).length);
  /** The route that waits for a place to be clicked on the plan, if any does. */
  readonly asking = signal<number | null>(null);
  protected readonly phrases = computed(() => describe('walks', this.walk()));
  protected readonly routes = computed(() =>
    this.walk().routes.map((route) => ({
      visitor: route.visitor,
      name: this.editor.nameOf(route.visitor),
      instructions: route.instructions.map((one) => ({ id: one.id, phrase: instructionPhrase(one) })),
    })),
  );
  protected readonly idle = computed(() => {
    const walking = new Set(this.walk().routes.map((route) => route.visitor));
    return this.editor.level().visitors.filter((visitor) => !walking.has(visitor.id));
  });

  /** Takes a place clicked on the plan for the route that asks for one; false if none does. */
  takePoint(at: Point): boolean {
    const route = this.asking();
    if (route === null) return false;
    const visitor = this.editor.level().visitors.find((one) => one.id === this.walk().routes[route]?.visitor);
    const to = { x: tidy(Math.round(at.x * 10) / 10), y: tidy(Math.round(at.y * 10) / 10), z: visitor?.at.z ?? 0 };
    const absolute = { room: '', of: '', axes: 'room', height: 'datum' } as const;
    this.append(route, { id: this.editor.newId('go'), do: 'go-to', to: { ...to, ...absolute } });
    return true;
  }

  protected ask(route: number): void {
    this.asking.update((now) => (now === route ? null : route));
  }

  protected addWait(route: number): void {
    this.append(route, { id: this.editor.newId('wait'), do: 'wait', seconds: 1 });
  }

  protected addHandling(route: number, what: 'carry' | 'drop'): void {
    const props = this.editor.level().visitors.filter((visitor) => visitor.kind === 'prop');
    this.append(route, { id: this.editor.newId(what), do: what, prop: props.length === 1 ? props[0]!.id : '' });
  }

  protected removeInstruction(route: number, at: number): void {
    this.giveInstructions(route, this.walk().routes[route]!.instructions.toSpliced(at, 1));
  }

  protected move(route: number, at: number, by: number): void {
    const { instructions } = this.walk().routes[route]!;
    const to = at + by;
    if (to >= 0 && to < instructions.length)
      this.giveInstructions(route, instructions.toSpliced(at, 1).toSpliced(to, 0, instructions[at]!));
  }

  protected addRoute(visitor: string): void {
    if (visitor !== '')
      this.editor.edit(change('walks', this.walk(), { routes: [...this.walk().routes, { visitor, instructions: [] }] }));
  }

  protected removeRoute(at: number): void {
    this.asking.set(null);
    this.editor.edit(change('walks', this.walk(), { routes: this.walk().routes.toSpliced(at, 1) }));
  }

  private append(route: number, instruction: Instruction): void {
    this.giveInstructions(route, [...this.walk().routes[route]!.instructions, instruction]);
  }

  private giveInstructions(route: number, instructions: Instruction[]): void {
    this.editor.edit(
      change('walks', this.walk(), { routes: this.walk().routes.with(route, { ...this.walk().routes[route]!, instructions }) }),
    );
  }
}
