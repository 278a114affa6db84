import { freeName } from '../document/create';
import { add, change } from '../document/edits';
import type { Edit } from '../document/edits';
import type { Collection, Level, Thing } from '../document/level';
import { parseThing } from '../document/parse';
import type { CauseEvent } from '../vocabulary/events';
import type { ThingWord } from '../kinds/words';
import type { Fixture, FixtureName } from '../kinds/fixtures';
import type { StepName } from '../kinds/steps';
import { roundTo } from '../vocabulary/rounding';

/** A question that matters for a set piece, in one sentence; its first answer is the usual one. */
export type Question = { id: string; ask: string } & (
  | { kind: 'choice'; options: { value: string; label: string }[] }
  | { kind: 'number'; unit: string; usual: number; min: number; max: number }
  /** A thing of the level; where there is none, or none is chosen, the piece makes its own. */
  | { kind: 'thing'; accepts: readonly ThingWord[]; none: string }
);

export type Answers = Readonly<Record<string, string | number>>;

/** A ready arrangement of things and chains, placed as a whole around a point and adjusted afterwards. */
export interface SetPiece {
  id: string;
  title: string;
  /** What it does, in one sentence. */
  says: string;
  questions: Question[];
  make(kit: SetPieceBuilder): void;
}

/** The edit that places a set piece, in one step of undo, and what is to be selected then. */
export function placePiece(
  level: Level,
  piece: SetPiece,
  where: { room: string; at: { x: number; y: number } },
  answers: Answers,
  newId: (prefix: string) => string,
): { edit: Edit; select: string[] } {
  const kit = new SetPieceBuilder(level, piece, where, answers, newId);
  piece.make(kit);
  return { edit: { kind: 'all', label: `place ${piece.title}`, edits: kit.edits }, select: kit.standing };
}

type Raw = Record<string, unknown>;

/** Some values of a cause beside its event and what it comes from. */
interface CauseValues {
  kinds?: string[];
  anyOf?: string[];
  limit?: number | null;
  cooldown?: number;
  ownerOnly?: boolean;
  counts?: string;
}

/** Makes the things of a set piece. Points are counted from the middle of the piece, on the ground of its room. */
export class SetPieceBuilder {
  readonly edits: Edit[] = [];
  /** What stands on the plan, in the order in which it was made. */
  readonly standing: string[] = [];
  private level: Level;

  constructor(
    level: Level,
    private readonly piece: Pick<SetPiece, 'id' | 'questions'>,
    private readonly where: { room: string; at: { x: number; y: number } },
    private readonly answers: Answers,
    private readonly newId: (prefix: string) => string,
  ) {
    this.level = level;
  }

  /** The answer to a choice: its first option, where nothing was answered. */
  choice(id: string): string {
    const question = this.piece.questions.find((one) => one.id === id);
    const first = question?.kind === 'choice' ? question.options[0]!.value : '';
    return String(this.answers[id] ?? first);
  }

  number(id: string): number {
    const question = this.piece.questions.find((one) => one.id === id);
    const usual = question?.kind === 'number' ? question.usual : 0;
    return Number(this.answers[id] ?? usual);
  }

  /** The thing that was chosen; null if the piece is to make its own. */
  thing(id: string): string | null {
    const answer = String(this.answers[id] ?? '');
    return answer === '' ? null : answer;
  }

  /** Who counts, by the answer to the question of that id: the kinds of a filter. */
  who(id = 'who'): string[] {
    return whoKinds[this.choice(id)] ?? [];
  }

  /** How often, by the answer to the question of that id: the limit of a cause. */
  limit(id = 'often'): number | null {
    return this.choice(id) === 'once' ? 1 : null;
  }

  private get ground(): number {
    return this.level.rooms.find(({ id }) => id === this.where.room)?.ground ?? 0;
  }

  at(x: number, y: number, z = 0): { x: number; y: number; z: number } {
    return { x: roundTo(this.where.at.x + x, 3), y: roundTo(this.where.at.y + y, 3), z: roundTo(this.ground + z, 3) };
  }

  get room(): string {
    return this.where.room;
  }

  /** An id for what is made later, where two things name each other. */
  idFor(prefix: string): string {
    return this.newId(prefix);
  }

  zone(name: string, x: number, y: number, shape: Raw, more: Raw = {}): string {
    return this.add('zones', 'zone', name, { room: this.where.room, at: this.at(x, y), shape, ...more });
  }

  fixture(kind: FixtureName, name: string, x: number, y: number, more: Raw = {}, z = 0): string {
    return this.add('fixtures', kind, name, { kind, room: this.where.room, at: this.at(x, y, z), ...more });
  }

  solid(name: string, x: number, y: number, size: Raw): string {
    return this.add('solids', 'solid', name, { room: this.where.room, at: this.at(x, y), size });
  }

  visitor(kind: 'player' | 'creature' | 'prop', name: string, x: number, y: number, more: Raw = {}): string {
    return this.add('visitors', kind, name, { kind, room: this.where.room, at: this.at(x, y), body: bodies[kind], ...more });
  }

  fact(collection: 'flags' | 'counters' | 'signals' | 'watches', name: string, more: Raw = {}): string {
    return this.add(collection, collection.slice(0, -1), name, more);
  }

  newRoom(name: string): string {
    const extents = { west: -6, east: 6, south: -5, north: 5 };
    return this.add('rooms', 'room', name, { extents });
  }

  cause(on: CauseEvent, of: string, { kinds = [], anyOf = [], ownerOnly = false, ...rest }: CauseValues = {}): Raw {
    return { id: this.newId('cause'), on, of, filter: { kinds, anyOf, ownerOnly }, ...rest };
  }

  /** A step; with `with: true` it starts together with the one before it. */
  step(kind: StepName, values: Raw = {}): Raw {
    return { id: this.newId('step'), kind, ...values };
  }

  chain(name: string, causes: Raw | Raw[], steps: Raw[], more: Raw = {}): string {
    return this.add('chains', 'chain', name, { causes: [causes].flat(), steps, ...more });
  }

  /** A gate that sinks out of its doorway. */
  sinkingGate(name: string, x: number, { wide = 3, tall = 2.2, seconds = 1 } = {}): string {
    return this.fixture('door', name, x, 0, {
      size: { x: 0.3, y: wide, z: tall },
      manner: 'sink',
      travel: { x: 0, y: 0, z: -tall },
      timing: { by: 'seconds', seconds },
    });
  }

  /** Two chains: a door opens when the first one enters a place, and closes when the last one has left it. */
  opensWhileInside(door: string, zone: string, opens: string, closes: string, kinds: string[]): void {
    this.whileInside(zone, kinds, [opens, this.step('open', { door })], [closes, this.step('close', { door })]);
  }

  /** Two chains, each a name and its steps: one when the first one enters a place, the other when the last one has left it. */
  whileInside(
    zone: string,
    kinds: string[],
    [comes, ...first]: readonly [string, ...Raw[]],
    [goes, ...last]: readonly [string, ...Raw[]],
    limit: number | null = null,
  ): void {
    const values = { kinds, counts: 'first-and-last', limit };
    this.chain(comes, this.cause('enter', zone, values), first);
    this.chain(goes, this.cause('leave', zone, values), last);
  }

  /** Gives a fixture of the level some other values. */
  change(fixture: Fixture, values: Partial<Fixture>): void {
    this.edits.push(change('fixtures', fixture, values));
  }

  private add(collection: Collection, prefix: string, name: string, values: Raw): string {
    const id = typeof values['id'] === 'string' ? values['id'] : this.newId(prefix);
    const parsed = parseThing(collection, { id, name: freeName(this.level, name), ...values } as never);
    if (!parsed.ok) throw new Error(`${this.piece.id} makes something that a level may not hold: ${parsed.faults[0]?.message}`);
    this.edits.push(add(this.level, collection, parsed.thing as Thing));
    this.level = { ...this.level, [collection]: [...this.level[collection], parsed.thing] };
    if ('at' in parsed.thing) this.standing.push(id);
    return id;
  }
}

const bodies = {
  player: { kind: 'box', size: { x: 0.5, y: 0.5, z: 1.8 } },
  creature: { kind: 'box', size: { x: 0.5, y: 0.5, z: 1 } },
  prop: { kind: 'box', size: { x: 0.4, y: 0.4, z: 0.4 } },
};

const whoKinds: Record<string, string[]> = { players: ['player'], anyone: [], 'players-creatures': ['player', 'creature'] };

/** Who counts: asked by most pieces. */
export const whoQuestion: Question = {
  id: 'who',
  ask: 'Who sets it off?',
  kind: 'choice',
  options: [
    { value: 'players', label: 'players' },
    { value: 'players-creatures', label: 'players and creatures' },
    { value: 'anyone', label: 'anyone, props too' },
  ],
};

/** How often: every time, or once. */
export const oftenQuestion: Question = {
  id: 'often',
  ask: 'How often?',
  kind: 'choice',
  options: [
    { value: 'always', label: 'every time' },
    { value: 'once', label: 'once' },
  ],
};

export const pillar = (radius: number, height = 3): Raw => ({ kind: 'pillar', radius, height });
export const box = (x: number, y: number, z = 2.2): Raw => ({ kind: 'box', size: { x, y, z } });
/** The visitor that caused it. */
export const triggeringVisitor = { who: { by: 'cause' } };
