import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  change,
  describe,
  expectationPhrase,
  instructionPhrase,
  newExpectation,
  pointOf,
  readByNames,
  wayPointsOf,
  tidy,
  placeAt,
} from '@nettlewick/core';
import type { Expectation, Instruction, Place, Visitor, Walk, WayPoint, Point } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import type { Pin } from '../board/pins';
import { RevealedFields } from '../sentence/revealed-fields';
import { Picking } from '../sentence/picking';
import { NameField } from '../sentence/name-field';
import { Sentence } from '../sentence/sentence';
import { Editor } from '../state/editor';
import { Icon } from '../controls/icon';
import { FixList } from './fix-list';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { SearchLabel } from '../controls/search-label';

/** What a visitor can be told, as the buttons say it. */
const tellings = [
  { does: 'use', says: '+ use' },
  { does: 'carry', says: '+ pick up' },
  { does: 'drop', says: '+ put down' },
  { does: 'throw', says: '+ throw' },
  { does: 'wait', says: '+ wait' },
  { does: 'turn', says: '+ turn' },
] as const;
type Telling = (typeof tellings)[number]['does'];

/** Way points that are nearer to each other, in metres, have no room for another between them. */
const APART = 4;

const absolute = { room: '', of: '', axes: 'room', height: 'datum' } as const;

/** The walk itself: for each visitor in it, what it does, one thing after another; and what is expected of it. */
@Component({
  selector: 'nw-walk-panel',
  imports: [CdkMenu, CdkMenuItem, CdkMenuTrigger, FixList, FormsModule, Icon, SearchLabel, NameField, NzSelectModule, Sentence],
  templateUrl: './walk-panel.html',
  styleUrl: './walk-panel.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WalkPanel {
  readonly walk = input.required<Walk>();
  readonly room = input.required<string>();
  /** It is asked why nothing happened at something. */
  readonly why = output<string>();
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(RehearsalStore);
  private readonly asked = inject(RevealedFields);
  private readonly picking = inject(Picking);
  protected readonly tellings = tellings;
  protected readonly error = signal<string | null>(null);
  /** What became of the walk's expectations in the latest rehearsal, with each in a sentence. */
  protected readonly expected = computed(() => {
    const result = this.rehearser.ran();
    const answers = result?.walk === this.walk().id ? result.expectations : [];
    return this.walk().expectations.map((one, at) => {
      const answer = answers.find(({ id }) => id === one.id) ?? null;
      const because = answer === null ? '' : readByNames(answer.because, (id) => this.editor.nameOf(id));
      return { id: one.id, phrase: expectationPhrase(one), answer, because, path: `/expectations/${at}` };
    });
  });
  protected readonly met = computed(() => this.expected().filter((one) => one.answer?.passed).length);
  /** Whether something is expected that was not met in the latest rehearsal. */
  protected readonly isUnmet = computed(() => this.expected().some((one) => one.answer?.passed === false));
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
    return this.editor
      .level()
      .visitors.filter((visitor) => !walking.has(visitor.id))
      .map(({ id, name }) => ({ value: id, label: name.trim() }));
  });

  /** What became of each way point when it was rehearsed last, by its instruction. */
  private readonly came = computed<ReadonlyMap<string, WayPoint>>(() => {
    const result = this.rehearser.ran();
    if (result?.walk !== this.walk().id) return new Map();
    return new Map(wayPointsOf(this.editor.level(), result, this.walk()).map((one) => [one.instruction, one]));
  });

  /**
   * The way points of the room that is shown, as pins that can be dragged, with when they were come to; where visitors start; and between
   * two way points where another one can be put.
   */
  readonly pins = computed<Pin[]>(() => {
    const level = this.editor.level();
    return this.walk().routes.flatMap((route, r) => {
      const visitor = this.visitorOf(route.visitor);
      if (visitor === undefined) return [];
      const name = visitor.name.trim();
      const start: Pin[] =
        visitor.room === this.room()
          ? [{ id: `start ${route.visitor}`, at: visitor.at, text: name, label: `${name} starts here`, held: true }]
          : [];
      const points = route.instructions.flatMap((one, i): Pin[] => {
        const point = one.do === 'go-to' ? pointOf(level, one.to, visitor.room) : null;
        if (point?.room !== this.room()) return [];
        return [{ id: `${r}/${i}`, at: point.at, ...this.pinSays(one.id, point.at, i + 1, name), held: true }];
      });
      return [...start, ...points, ...this.between(points, r, name)];
    });
  });

  /** Where the way that is being drawn has come to: what is drawn from the side goes on as deep in the room. */
  readonly comesTo = computed<Point | null>(() => {
    const asking = this.asking();
    const route = asking === null ? undefined : this.walk().routes[asking];
    const own = this.pins().filter(({ id }) => id.startsWith(`${asking}/`) || id === `start ${route?.visitor}`);
    return own.at(-1)?.at ?? null;
  });

  /** The way as it is told, from point to point. */
  readonly told = computed<Point[][]>(() => {
    const level = this.editor.level();
    return this.walk().routes.map((route) => {
      const visitor = this.visitorOf(route.visitor);
      if (visitor?.room !== this.room()) return [];
      const points = route.instructions.flatMap((one) => {
        const point = one.do === 'go-to' ? pointOf(level, one.to, visitor.room) : null;
        return point?.room === this.room() ? [point.at] : [];
      });
      return [visitor.at, ...points];
    });
  });

  /** What a way point says: its number, and when it was come to; or that nobody gets there. */
  private pinSays(instruction: string, to: Point, number: number, name: string): { text: string; label: string } {
    if (this.isOutside(to)) return { text: `${number} ✗`, label: `${name} waypoint ${number}: outside the room` };
    const came = this.came().get(instruction);
    if (came === undefined) return { text: String(number), label: `${name} goes here, ${number}` };
    if (came.seconds === null) {
      const stopped = came.stoppedBy === null ? '' : `: stopped by ${this.editor.nameOf(came.stoppedBy).trim()}`;
      return { text: `${number} ✗`, label: `${name} does not get here, ${number}${stopped}` };
    }
    const at = Math.round(came.seconds * 10) / 10;
    const speed = came.speed === null ? '' : `, ${Math.round(came.speed * 100) / 100} m/s on the way`;
    return { text: `${number} · ${at} s`, label: `${name} goes here, ${number}, after ${at} s${speed}` };
  }

  /** In the middle between two way points that follow each other: whoever drags it puts another there. */
  private between(points: readonly Pin[], route: number, name: string): Pin[] {
    return points.slice(1).flatMap(({ id, at }, i) => {
      const from = points[i]!.at;
      if (Math.hypot(at.x - from.x, at.y - from.y) < APART) return [];
      const middle = { x: (from.x + at.x) / 2, y: (from.y + at.y) / 2 };
      return [
        {
          id: `between ${id}`,
          at: middle,
          text: '+',
          label: `Drag to add a waypoint for ${name} on route ${route + 1}`,
          held: true,
        },
      ];
    });
  }

  /** The way point that a gesture has put between two others, as it goes on. */
  private inserted: { gesture: string; pin: string } | null = null;

  private insertAt(route: number, at: number, to: Point, gesture?: string): void {
    const visitor = this.visitorOf(this.walk().routes[route]?.visitor ?? '');
    const place: Place = { ...to, z: visitor?.at.z ?? 0, ...absolute };
    const one: Instruction = { id: this.editor.newId('go'), do: 'go-to', to: place };
    this.giveInstructions(route, this.walk().routes[route]!.instructions.toSpliced(at, 0, one), gesture);
  }

  /** By the list: a way point before another, whose numbers are typed. */
  protected insertBefore(route: number, at: number): void {
    const level = this.editor.level();
    const visitor = this.visitorOf(this.walk().routes[route]!.visitor);
    const here = this.walk().routes[route]!.instructions[at]!;
    const point = here.do === 'go-to' && visitor !== undefined ? pointOf(level, here.to, visitor.room)?.at : undefined;
    this.insertAt(
      route,
      at,
      point === undefined ? { x: visitor?.at.x ?? 0, y: visitor?.at.y ?? 0 } : { x: tidy(point.x - 1), y: tidy(point.y) },
    );
    this.asked.editNext({ thing: this.walk().id, path: `/routes/${route}/instructions/${at}/to/x` });
  }

  /** Lets a visitor start at a place that is pressed next, in whatever room is shown then. */
  protected startHere(route: number): void {
    const visitor = this.visitorOf(this.walk().routes[route]!.visitor);
    if (visitor === undefined) return;
    this.asking.set(null);
    this.picking.ask({
      wanted: `where ${visitor.name.trim()} starts`,
      take: ({ at, room }) => {
        const to = { ...visitor.at, x: tidy(at.x), y: tidy(at.y) };
        this.editor.edit(change('visitors', visitor, { at: to, room }));
        return true;
      },
    });
  }

  /** Takes a place clicked on the plan for the route that asks for one; false if none does. */
  takePoint(at: Point): boolean {
    const route = this.asking();
    if (route === null) return false;
    this.goTo(route, { x: tidy(at.x), y: tidy(at.y) });
    return true;
  }

  /** Lets a way point, or where a visitor starts, be at another place: one edit for each gesture. */
  movePin(pin: string, at: Point, gesture: string): void {
    const to = { x: tidy(at.x), y: tidy(at.y) };
    if (pin.startsWith('start ')) {
      const visitor = this.visitorOf(pin.slice(6));
      if (visitor !== undefined) this.editor.set(visitor.id, '/at', { ...visitor.at, ...to }, gesture);
      return;
    }
    if (pin.startsWith('between ') && this.inserted?.gesture !== gesture) {
      const before = pin.slice('between '.length);
      const [r = 0, i = 0] = before.split('/').map(Number);
      this.insertAt(r, i, to, gesture);
      this.inserted = { gesture, pin: before };
      return;
    }
    const [r = 0, i = 0] = (this.inserted?.gesture === gesture ? this.inserted.pin : pin).split('/').map(Number);
    const one = this.walk().routes[r]?.instructions[i];
    if (one?.do !== 'go-to') return;
    const place = placeAt(this.editor.level(), one.to, to, this.room(), this.walk().routes[r]!.visitor);
    this.editor.set(this.walk().id, `/routes/${r}/instructions/${i}/to`, place, gesture);
  }

  constructor() {
    const typed = (event: KeyboardEvent): void => this.typed(event);
    // Before any command hears of the key.
    document.addEventListener('keydown', typed, true);
    inject(DestroyRef).onDestroy(() => document.removeEventListener('keydown', typed, true));
  }

  /** Digits go into the point that is being typed, not to the commands for views. */
  private typed(event: KeyboardEvent): void {
    const route = this.asking();
    const isTyping = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
    if (route === null || isTyping || event.ctrlKey || event.metaKey || event.altKey || !/^[-.\d]$/.test(event.key)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    this.asking.set(null);
    this.addPoint(route);
    const begin = (tries: number): void => {
      const field = document.activeElement;
      if (field instanceof HTMLInputElement) {
        field.value = event.key;
        field.dispatchEvent(new Event('input', { bubbles: true }));
      } else if (tries > 0) requestAnimationFrame(() => begin(tries - 1));
    };
    requestAnimationFrame(() => begin(10));
  }

  /** By the pointer places are clicked on the plan; by the keyboard one is added and its numbers are typed. */
  protected ask(route: number, event: MouseEvent): void {
    if (event.detail !== 0) {
      this.asking.update((now) => (now === route ? null : route));
      return;
    }
    this.addPoint(route);
  }

  /** Adds a point a metre on, whose numbers are typed next. */
  private addPoint(route: number): void {
    const last = this.told()[route]?.at(-1) ?? { x: 0, y: 0 };
    const at = this.walk().routes[route]!.instructions.length;
    this.goTo(route, { x: tidy(last.x + 1), y: tidy(last.y) });
    this.asked.editNext({ thing: this.walk().id, path: `/routes/${route}/instructions/${at}/to/x` });
  }

  protected tell(route: number, telling: Telling): void {
    const at = this.walk().routes[route]!.instructions.length;
    const props = this.editor.level().visitors.filter((visitor) => visitor.kind === 'prop');
    const prop = props.length === 1 ? props[0]!.id : '';
    const id = this.editor.newId(telling);
    const path = `/routes/${route}/instructions/${at}`;
    const made: { [T in Telling]: Extract<Instruction, { do: T }> } = {
      use: { id, do: 'use', fixture: '' },
      carry: { id, do: 'carry', prop },
      drop: { id, do: 'drop', prop },
      throw: { id, do: 'throw', prop, velocity: { x: 4, y: 0, z: 4 } },
      wait: { id, do: 'wait', seconds: 1 },
      turn: { id, do: 'turn', heading: 0 },
    };
    this.append(route, made[telling]);
    const next = { use: '/fixture', carry: '/prop', drop: '/prop', throw: '/prop', wait: '/seconds', turn: '/heading' }[telling];
    if (prop === '' || !next.endsWith('prop')) this.asked.editNext({ thing: this.walk().id, path: path + next });
  }

  protected expect(kind: Expectation['expect']): void {
    const id = this.editor.newId('expect');
    this.give({ expectations: [...this.walk().expectations, newExpectation(kind, id)] });
  }

  protected removeExpectation(at: number): void {
    this.give({ expectations: this.walk().expectations.toSpliced(at, 1) });
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

  protected addRoute(visitor: string | null): void {
    if (visitor !== null && visitor !== '') this.give({ routes: [...this.walk().routes, { visitor, instructions: [] }] });
  }

  protected removeRoute(at: number): void {
    this.asking.set(null);
    this.give({ routes: this.walk().routes.toSpliced(at, 1) });
  }

  private goTo(route: number, to: Point): void {
    const visitor = this.visitorOf(this.walk().routes[route]?.visitor ?? '');
    if (this.isOutside(to)) {
      this.error.set('That point is outside the room. Click inside its walls.');
      return;
    }
    this.error.set(null);
    const place: Place = { ...to, z: visitor?.at.z ?? 0, ...absolute };
    this.append(route, { id: this.editor.newId('go'), do: 'go-to', to: place });
  }

  private isOutside({ x, y }: Point): boolean {
    const edge = this.editor.level().rooms.find(({ id }) => id === this.room())?.extents;
    return edge !== undefined && (x < edge.west || x > edge.east || y < edge.south || y > edge.north);
  }

  private visitorOf(id: string): Visitor | undefined {
    return this.editor.level().visitors.find((one) => one.id === id);
  }

  private append(route: number, instruction: Instruction): void {
    this.giveInstructions(route, [...this.walk().routes[route]!.instructions, instruction]);
  }

  private giveInstructions(route: number, instructions: Instruction[], gesture?: string): void {
    this.give({ routes: this.walk().routes.with(route, { ...this.walk().routes[route]!, instructions }) }, gesture);
  }

  private give(fields: Partial<Walk>, gesture?: string): void {
    this.editor.edit(change('walks', this.walk(), fields), gesture);
  }
}
