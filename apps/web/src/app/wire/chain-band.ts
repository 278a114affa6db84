import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import type { ConnectedPosition } from '@angular/cdk/overlay';
import { CdkDrag, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, signal, viewChild } from '@angular/core';
import {
  causePhrase,
  change,
  Conditions,
  guardPhrase,
  lookup,
  kindOfStep,
  stepNames,
  stepPhrase,
  timeline,
  wordOf,
  collections,
} from '@nettlewick/core';
import type { Chain, StepName } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { NameField } from '../sentence/name-field';
import { Sentence } from '../sentence/sentence';
import { Editor } from '../studio/editor';
import { Mark } from '../studio/mark';

/** One chain: its sentence, and its steps as blocks on a time ruler. */
@Component({
  selector: 'nw-chain-band',
  imports: [CdkDrag, CdkDragHandle, CdkDropList, CdkMenu, CdkMenuItem, CdkMenuTrigger, Mark, NameField, Sentence],
  templateUrl: './chain-band.html',
  styleUrl: './chain-band.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChainBand {
  readonly chain = input.required<Chain>();
  /** Its place in listing order, from 0. */
  readonly at = input.required<number>();
  readonly marked = input(false);
  protected readonly editor = inject(Editor);
  private readonly ruler = viewChild<ElementRef<HTMLElement>>('ruler');
  private readonly kinds = stepNames.map((name) => ({ name, label: kindOfStep(name).label }));
  /** Below the button, or above it, or beside: wherever there is room. */
  protected readonly menuPositions: ConnectedPosition[] = [
    { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top' },
    { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom' },
    { originX: 'end', originY: 'center', overlayX: 'start', overlayY: 'center' },
  ];
  protected readonly wanted = signal('');
  /** The kinds of step that what is typed asks for. */
  protected readonly wantedKinds = computed(() => {
    const words = this.wanted().toLowerCase().split(/\s+/);
    return this.kinds.filter(({ name, label }) =>
      words.every((word) => label.toLowerCase().includes(word) || name.includes(word)),
    );
  });
  protected readonly allFilters = signal(false);
  protected readonly dragging = signal<string | null>(null);
  private pull: { step: number; x: number; delay: number; gesture: string } | null = null;

  protected readonly chosen = computed(() => this.editor.selection().includes(this.chain().id));
  protected readonly causes = computed(() =>
    this.chain().causes.map((cause) => ({
      id: cause.id,
      phrase: causePhrase(cause, this.allFilters(), this.editor.find(cause.of)?.word),
    })),
  );
  protected readonly guard = computed(() => (this.chain().guard.trim() === '' ? null : guardPhrase(this.chain().guard)));
  /** What is wrong with the condition, with the place in its text. */
  protected readonly guardFaults = computed(() => {
    const conditions = new Conditions(lookup(this.editor.level()), () => false);
    return conditions.of(this.chain().guard).faults.map((fault) => `At character ${fault.from + 1}: ${fault.message}.`);
  });
  private readonly spans = computed(() => timeline(this.editor.level(), this.chain()));
  protected readonly length = computed(() => Math.max(...this.spans().map((span) => span.end), 0));
  /** How many seconds the ruler shows: a little more than the chain takes. */
  private readonly reach = computed(() => Math.max(2, this.length() * 1.15 + 0.25));
  protected readonly ticks = computed(() =>
    scaleLinear()
      .domain([0, this.reach()])
      .ticks(6)
      .filter((value) => value < this.reach() * 0.94)
      .map((value) => ({ value, left: this.percent(value) })),
  );
  protected readonly rows = computed(() =>
    this.chain().steps.map((step, i) => {
      const span = this.spans()[i]!;
      const seconds = span.end - span.start;
      return {
        step,
        phrase: stepPhrase(step),
        lead: { left: this.percent(span.turn), width: this.percent(span.start - span.turn) },
        left: this.percent(span.start),
        width: this.percent(seconds),
        instant: seconds === 0,
        late: span.start > this.reach() * 0.6,
        text: seconds === 0 ? `at ${brief(span.start)} s` : `${brief(span.start)} to ${brief(span.end)} s`,
        spoken: `${step.kind}, from ${brief(span.start)} to ${brief(span.end)} seconds, delay ${brief(step.delay)} seconds. Left and right arrows change the delay`,
      };
    }),
  );

  /** The menu of steps opens with its search field in hand. */
  protected menuOpened(): void {
    this.wanted.set('');
    setTimeout(() => document.querySelector<HTMLElement>('.steps-menu input')?.focus());
  }

  /** Keys in the search field: down goes into the list, Enter takes its first; the rest is typed. */
  protected searchKey(event: KeyboardEvent, trigger: CdkMenuTrigger): void {
    if (event.key === 'Escape' || event.key === 'Tab') {
      trigger.close();
    } else if (event.key === 'ArrowDown') {
      event.preventDefault();
      (event.target as Element).parentElement?.querySelector<HTMLElement>('[role=menuitem]')?.focus();
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const [first] = this.wantedKinds();
      if (first !== undefined) this.addStep(first.name);
      trigger.close();
    }
    event.stopPropagation();
  }

  protected addStep(name: StepName): void {
    const kind = kindOfStep(name);
    const level = this.editor.level();
    // The thing in hand if it fits, or the only one that does; otherwise it is left to choose.
    const fitting = collections.flatMap((collection) =>
      level[collection].filter((thing) => kind.accepts.includes(wordOf(collection, thing))),
    );
    const target =
      fitting.find((thing) => this.editor.selection().includes(thing.id)) ?? (fitting.length === 1 ? fitting[0] : undefined);
    const step = kind.create(this.editor.newId('step'), target?.id ?? '');
    this.give({ steps: [...this.chain().steps, step] });
  }

  protected removeStep(at: number): void {
    this.give({ steps: this.chain().steps.toSpliced(at, 1) });
  }

  protected moveStep(from: number, to: number): void {
    const { steps } = this.chain();
    if (to < 0 || to >= steps.length || from === to) return;
    this.give({ steps: steps.toSpliced(from, 1).toSpliced(to, 0, steps[from]!) });
  }

  protected dropped(event: CdkDragDrop<unknown>): void {
    this.moveStep(event.previousIndex, event.currentIndex);
  }

  protected addCause(): void {
    this.give({ causes: [...this.chain().causes, this.editor.newCause('enter', '')] });
  }

  protected removeCause(at: number): void {
    this.give({ causes: this.chain().causes.toSpliced(at, 1) });
  }

  protected addGuard(): void {
    const [flag] = this.editor.level().flags;
    this.give({ guard: flag === undefined ? 'hand() != ""' : `flag("${flag.id}")` });
  }

  protected removeGuard(): void {
    this.give({ guard: '' });
  }

  protected toggle(): void {
    this.give({ enabled: !this.chain().enabled });
  }

  protected moveChain(by: number): void {
    const to = this.at() + by;
    if (to < 0 || to >= this.editor.level().chains.length) return;
    this.editor.edit({ kind: 'move', collection: 'chains', id: this.chain().id, from: this.at(), to });
  }

  protected grab(event: PointerEvent, at: number): void {
    if (event.button !== 0) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    const step = this.chain().steps[at]!;
    this.pull = { step: at, x: event.clientX, delay: step.delay, gesture: `delay ${step.id} ${Date.now()}` };
    this.dragging.set(step.id);
  }

  protected drag(event: PointerEvent): void {
    const width = this.ruler()?.nativeElement.getBoundingClientRect().width;
    if (this.pull === null || width === undefined) return;
    const seconds = ((event.clientX - this.pull.x) / width) * this.reach();
    this.setDelay(this.pull.step, this.pull.delay + seconds, this.pull.gesture);
  }

  protected letGo(): void {
    this.pull = null;
    this.dragging.set(null);
  }

  protected blockKey(event: KeyboardEvent, at: number): void {
    const step = this.chain().steps[at]!;
    const finer = event.shiftKey ? 1 : 0.1;
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown'))
      this.moveStep(at, at + (event.key === 'ArrowUp' ? -1 : 1));
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight')
      this.setDelay(at, step.delay + (event.key === 'ArrowLeft' ? -finer : finer), `keys ${step.id}`);
    else if (event.key === 'Delete' || event.key === 'Backspace') this.removeStep(at);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private setDelay(at: number, delay: number, gesture: string): void {
    const rounded = Math.max(0, Math.round(delay * 10) / 10);
    if (rounded !== this.chain().steps[at]?.delay) this.editor.set(this.chain().id, `/steps/${at}/delay`, rounded, gesture);
  }

  private give(fields: Partial<Chain>): void {
    this.editor.edit(change('chains', this.chain(), fields));
  }

  private percent(seconds: number): number {
    return (seconds / this.reach()) * 100;
  }
}

function brief(seconds: number): string {
  return String(Math.round(seconds * 100) / 100);
}
