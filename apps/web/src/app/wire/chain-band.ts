import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import type { ConnectedPosition } from '@angular/cdk/overlay';
import { CdkDrag, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import {
  ApplicationRef,
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  actedOn,
  causeOffers,
  causePhrase,
  chainOffers,
  chainSentence,
  change,
  Conditions,
  guardPhrase,
  controlLocks,
  lookup,
  kindOfStep,
  mannerPhrase,
  namedTarget,
  playedPhrase,
  servedBy,
  stepOffers,
  stepPhrase,
  stepDurations,
  timeline,
  triggeredChains,
  createCause,
  offered,
} from '@nettlewick/core';
import type { Chain, Fixture, Phrase, Step, StepName, Zone } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { FindingNotes } from '../editing/finding-notes';
import { downloadDrawing } from '../board/drawing-file';
import { LastViewedMoment } from '../editing/last-look';
import { RevealedFields } from '../sentence/revealed-fields';
import { MoreMenu } from '../sentence/more-menu';
import { NameField } from '../sentence/name-field';
import { Sentence } from '../sentence/sentence';
import { fileNameOf } from '../controls/download';
import { Editor } from '../state/editor';
import { brief } from './seconds';
import { Icon } from '../controls/icon';
import { chainSvg } from './chain-svg';
import { stepsFor } from './step-menu';
import { copiedStep, copyStep, moveStepTo } from './steps-moved';
import { TypedLine } from './typed-line';
import { UnrolledChain } from './unrolled-chain';
import { Tip } from '../controls/tip';

const nothing: ReadonlySet<string> = new Set();

/** One chain: its sentence, and its steps as blocks on a time ruler. */
@Component({
  selector: 'nw-chain-band',
  imports: [
    Tip,
    CdkDrag,
    CdkDragHandle,
    CdkDropList,
    CdkMenu,
    CdkMenuItem,
    CdkMenuTrigger,
    FindingNotes,
    Icon,
    MoreMenu,
    NameField,
    Sentence,
    TypedLine,
    UnrolledChain,
  ],
  templateUrl: './chain-band.html',
  styleUrl: './chain-band.css',
  host: { '(focusin)': 'comeTo($event)', '(pointerup)': 'take()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChainBand {
  readonly chain = input.required<Chain>();
  /** Its place in listing order, from 0. */
  readonly at = input.required<number>();
  readonly marked = input(false);
  /** Whether it is no more than its name and its sentence. */
  readonly folded = input(false);
  readonly foldedChange = output();
  /** The id of a chain that is asked for. */
  readonly opened = output<string>();
  protected readonly editor = inject(Editor);
  private readonly ruler = viewChild<ElementRef<HTMLElement>>('ruler');
  private readonly asked = inject(RevealedFields);
  private readonly app = inject(ApplicationRef);
  /** Below the button, or above it, or beside: wherever there is room. */
  protected readonly menuPositions: ConnectedPosition[] = [
    { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top' },
    { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom' },
    { originX: 'end', originY: 'center', overlayX: 'start', overlayY: 'center' },
  ];
  protected readonly wanted = signal('');
  /** The kinds of step that what is typed asks for, by what one wants of them; those that fit the chain's things come first. */
  protected readonly wantedKinds = computed(() => stepsFor(this.wanted(), (name) => this.fits(name)));

  /** The things of this chain: what sets it off, what that serves, and what its steps act on, the latest first. */
  private readonly near = computed(() => {
    const { causes, steps } = this.chain();
    const level = this.editor.level();
    const served = causes.flatMap(({ of }) => {
      const found = this.editor.find(of);
      return found?.collection === 'zones' ? (servedBy(level, found.thing as Zone)?.id ?? []) : [];
    });
    const acted = steps.flatMap((step) => actedOn(level, step)).filter((one) => one !== null);
    return [...acted.reverse(), ...served, ...causes.map(({ of }) => of)];
  });

  /** Whether a kind of step acts on a thing of this chain, and on little else. */
  private fits(name: StepName): boolean {
    const { accepts } = kindOfStep(name);
    if (accepts.length === 0 || accepts.length > 3) return false;
    return this.near().some((id) => accepts.includes(this.editor.find(id)?.word as never));
  }
  protected readonly sentence = computed(() => chainSentence(this.chain(), (id) => this.editor.nameOf(id).trim()));
  protected readonly guarded = signal(false);
  protected readonly dragging = signal<string | null>(null);
  private pull: { step: number; x: number; delay: number; gesture: string } | null = null;

  protected readonly chosen = computed(() => this.editor.selection().includes(this.chain().id));
  protected readonly causes = computed(() =>
    this.chain().causes.map((cause, at) => {
      const [when, ...said] = causePhrase(cause, this.askedIn(`/causes/${at}`), this.editor.find(cause.of)?.word, true);
      return { id: cause.id, phrase: [at === 0 ? when! : 'or when ', ...said], offers: causeOffers(cause) };
    }),
  );
  /**
   * Focus by keyboard selects the chain at once. A pointer selects it on release, because selecting changes the row above and would
   * move the target.
   */
  protected comeTo({ target }: FocusEvent): void {
    if ((target as Element).matches(':focus-visible')) this.take();
  }

  protected take(): void {
    if (!this.chosen()) this.editor.select(this.chain().id);
  }

  /** How it starts, and what it does when it is set off again: nothing where that is as usual. */
  protected readonly manner = computed(() => mannerPhrase(this.chain()));
  protected readonly offers = computed(() => chainOffers(this.chain()));
  protected readonly guard = computed(() =>
    this.chain().guard.trim() === '' && !this.guarded() ? null : guardPhrase(this.chain().guard),
  );
  /** What is wrong with the condition, with the place in its text. */
  protected readonly guardFaults = computed(() => {
    const conditions = new Conditions(lookup(this.editor.level()), () => false);
    return conditions.of(this.chain().guard).faults.map((fault) => `At character ${fault.from + 1}: ${fault.message}.`);
  });
  private readonly look = inject(LastViewedMoment);
  /** How long steps took when they were rehearsed last: only of those whose length the level cannot tell is it asked. */
  private readonly took = computed(() => {
    const looked = this.look.looked();
    return looked === null ? undefined : stepDurations(looked.ledger, this.chain());
  });
  private readonly spans = computed(() => timeline(this.editor.level(), this.chain(), this.took()));
  /** What the level alone tells of the steps. */
  private readonly told = computed(() => timeline(this.editor.level(), this.chain()));
  protected readonly length = computed(() => Math.max(...this.spans().map((span) => span.end), 0));
  /** Whether it is unrolled: what its steps set off in turn stands under them. */
  protected readonly isUnrolled = signal(false);
  protected readonly setsOff = computed(() => triggeredChains(this.editor.level(), this.chain(), this.isUnrolled() ? 100 : 1));
  /** How many seconds the ruler shows: a little more than the chain takes, and what it sets off if it is unrolled. */
  protected readonly reach = computed(() => {
    const unrolled = this.isUnrolled() ? this.setsOff().chains : [];
    const ends = unrolled.map(({ starts, spans, isLoop }) => starts + (isLoop ? 0 : Math.max(0, ...spans.map(({ end }) => end))));
    return Math.max(2, Math.max(this.length(), ...ends) * 1.15 + 0.25);
  });
  private readonly holds = computed(() =>
    controlLocks(this.chain()).map(({ from, to }) => ({
      from,
      to: to ?? this.chain().steps.length - 1,
      start: this.spans()[from]!.start,
      end: to === null ? null : this.spans()[to]!.start,
    })),
  );
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
      const rehearsed = seconds > 0 && this.told()[i]!.end === this.told()[i]!.start;
      return {
        step,
        phrase: stepPhrase(step),
        offers: stepOffers(step, i === 0),
        played: this.playedIn(step),
        lead: { left: this.percent(span.turn), width: this.percent(span.start - span.turn) },
        left: this.percent(span.start),
        width: this.percent(seconds),
        instant: seconds === 0,
        rehearsed,
        holds: this.holds()
          .filter(({ from, to }) => i >= from && i <= to)
          .map(({ from, to, start, end }) => ({
            left: this.percent(start),
            width: this.percent((end ?? this.reach()) - start),
            first: i === from,
            last: i === to,
            open: end === null,
            title: `Controls locked from ${brief(start)} s${end === null ? ', never unlocked' : ` to ${brief(end)} s`}`,
          })),
        when: this.labelPlace(span.start, span.end),
        text:
          seconds === 0
            ? `at ${brief(span.start)} s`
            : `${brief(span.start)} to ${brief(span.end)} s${rehearsed ? ', as rehearsed' : ''}`,
        spoken: `${step.kind}, from ${brief(span.start)} to ${brief(span.end)} seconds${rehearsed ? ' as rehearsed last' : ''}, delay ${brief(step.delay)} seconds. ${this.holds().some(({ from, to }) => i >= from && i <= to) ? 'Controls are locked. ' : ''}Left and right arrows change the delay`,
      };
    }),
  );

  /** What a step plays, so that its words and its length can be entered where it is used. */
  private playedIn(step: Step): { id: string; phrase: Phrase } | null {
    const found = this.editor.find(namedTarget(step) ?? '');
    const phrase = found?.collection === 'fixtures' ? playedPhrase(found.thing as Fixture) : null;
    return phrase === null ? null : { id: found!.thing.id, phrase };
  }

  private askedIn(prefix: string): ReadonlySet<string> {
    return this.asked.any() ? this.asked.within(this.chain().id, prefix) : nothing;
  }

  /** The menu of steps opens with its search field in hand, at once: what is typed next is meant for it. */
  protected menuOpened(): void {
    this.wanted.set('');
    this.app.tick();
    const take = (): void => document.querySelector<HTMLElement>('.steps-menu input')?.focus();
    take();
    // The menu takes hold of its first line when it is all there.
    setTimeout(take);
  }

  /** Keys in the search field: down goes into the list, Enter takes its first; the rest is typed. */
  protected searchKey(event: KeyboardEvent, trigger: CdkMenuTrigger): void {
    if (event.key === 'Escape' || event.key === 'Tab') {
      trigger.close();
    } else if (event.key === 'ArrowDown') {
      event.preventDefault();
      // Into the list of what was typed, however fast that was.
      this.app.tick();
      (event.target as Element).parentElement?.querySelector<HTMLElement>('[role=menuitem]')?.focus();
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const first = this.wantedKinds()[0]?.kinds[0];
      if (first !== undefined) this.addStep(first.name);
      trigger.close();
    }
    event.stopPropagation();
  }

  protected addStep(name: StepName): void {
    const kind = kindOfStep(name);
    // The thing in hand if it fits, or the only one that does; otherwise one of the chain's things, which is asked about, or none.
    const able = offered(this.editor.level(), kind.accepts).map(({ value }) => value);
    // A chain in hand is the one that is being written: it hardly acts on itself.
    const fitting = able.filter((id) => id !== this.chain().id);
    const sure = fitting.find((id) => this.editor.selection().includes(id)) ?? (fitting.length === 1 ? fitting[0] : undefined);
    const target = sure ?? this.near().find((id) => fitting.includes(id));
    const step = kind.create(this.editor.newId('step'), target ?? '');
    const at = this.chain().steps.length;
    this.give({ steps: [...this.chain().steps, step] });
    // What it acts on is asked for at once, or else what it says or counts.
    const [first] = kind.references(step);
    const empty = first !== undefined && (first.to === '' || target !== sure) ? first : kind.conditions?.(step)[0];
    if (empty !== undefined) this.asked.editNext({ thing: this.chain().id, path: `/steps/${at}${empty.path}` });
  }

  protected removeStep(at: number): void {
    this.give({ steps: this.chain().steps.toSpliced(at, 1) });
  }

  /** Moves a step in its chain; past its ends, into the chain before or after it. */
  private moveStep(at: number, by: 1 | -1): void {
    const { chains } = this.editor.level();
    const own = this.chain();
    const isInside = at + by >= 0 && at + by < own.steps.length;
    const to = isInside ? own : chains[this.at() + by];
    if (to === undefined) return;
    const { id } = own.steps[at]!;
    moveStepTo(this.editor, own, at, to, isInside ? at + by : by < 0 ? to.steps.length : 0);
    setTimeout(() => document.querySelector<HTMLElement>(`[data-step="${id}"] .block`)?.focus());
  }

  protected dropped(event: CdkDragDrop<Chain, Chain>): void {
    moveStepTo(this.editor, event.previousContainer.data, event.previousIndex, this.chain(), event.currentIndex);
  }

  /** Whether there is a copied step that can be put here. */
  protected copied(): boolean {
    return copiedStep() !== null;
  }

  /** Puts the step that was copied last into this chain. */
  protected pasteStep(at = this.chain().steps.length): void {
    const step = copiedStep();
    if (step !== null) this.give({ steps: this.chain().steps.toSpliced(at, 0, { ...step, id: this.editor.newId('step') }) });
  }

  protected addCause(): void {
    const at = this.chain().causes.length;
    this.give({ causes: [...this.chain().causes, createCause(this.editor.newId('cause'), 'enter', '')] });
    this.asked.editNext({ thing: this.chain().id, path: `/causes/${at}/of` });
  }

  protected removeCause(at: number): void {
    this.give({ causes: this.chain().causes.toSpliced(at, 1) });
  }

  /** A condition is said before it asks for anything: it is chosen there. */
  protected addGuard(): void {
    this.guarded.set(true);
    this.asked.editNext({ thing: this.chain().id, path: '/guard' });
  }

  protected removeGuard(): void {
    this.guarded.set(false);
    this.give({ guard: '' });
  }

  /** The chain as a drawing of its own. */
  protected async handOn(how: 'svg' | 'png'): Promise<void> {
    const svg = chainSvg(this.editor.level(), this.chain(), (id) => this.editor.nameOf(id).trim());
    await downloadDrawing(fileNameOf(this.chain().name), svg, how);
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
      this.moveStep(at, event.key === 'ArrowUp' ? -1 : 1);
    else if ((event.ctrlKey || event.metaKey) && event.key === 'c') copyStep(step);
    else if ((event.ctrlKey || event.metaKey) && event.key === 'v') this.pasteStep(at + 1);
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

  /** Where the time of a block stands: after it, before it, or inside of one that leaves no room. */
  private labelPlace(start: number, end: number): { left: number | null; right: number | null } {
    const most = this.reach() * 0.7;
    if (end <= most) return { left: this.percent(end), right: null };
    return start > this.reach() * 0.35
      ? { left: null, right: 100 - this.percent(start) }
      : { left: this.percent(start), right: null };
  }

  private percent(seconds: number): number {
    return (seconds / this.reach()) * 100;
  }
}
