import type { Chain } from '../../document/chains';
import { change } from '../../document/edits';
import type { Edit } from '../../document/edits';
import type { Level, Thing } from '../../document/level';
import { lookup } from '../../document/lookup';
import { actsOn, targetsOf } from '../../document/targets';
import type { Step } from '../../kinds/steps';
import type { Cause } from '../../kinds/causes/cause';
import { pointer, withValue } from '../../vocabulary/paths';

/** What will probably not do what is meant, though the document holds together. */
export interface Warning {
  /** What sort of mistake it is. */
  kind: string;
  /** A warning is nearly always a mistake; a remark often is meant so. */
  weight: 'warning' | 'remark';
  /** The thing to look at, and what else it is about. */
  thing: string;
  also: string[];
  /** JSON pointer (RFC 6901) into the document. */
  path: string;
  reason: string;
  mend: string;
  /** The edit that mends it, where there is one. */
  edit: Edit | null;
}

/** Where a step or a cause stands: its chain, its path within that, and its path in the document. */
interface At {
  chain: Chain;
  own: string;
  path: string;
}
type StepAt = At & { step: Step };
type CauseAt = At & { cause: Cause };

/** The most other things that a warning names. */
const MAX_NAMED = 20;

/** A level as the checks look at it: every step and cause with its chain, and what acts on what. What many things share is found once. */
export class CheckContext {
  readonly things;
  readonly steps: StepAt[] = [];
  readonly causes: CauseAt[] = [];

  private readonly causing = new Map<string, CauseAt[]>();
  /** The steps that act on a thing by its name, and those that act on all with a tag. */
  private readonly named = new Map<string, StepAt[]>();
  private readonly tagged = new Map<string, StepAt[]>();
  /** What was found for many at once, by what it was asked for. */
  private readonly shared = new Map<string, readonly StepAt[]>();
  private readonly tags = new Map<string, readonly string[]>();
  private readonly kept = new WeakMap<object, Map<string, unknown>>();

  constructor(readonly level: Level) {
    this.things = lookup(level);
    level.chains.forEach((chain, c) => {
      const at = (own: string) => ({ chain, own, path: pointer(['chains', c]) + own });
      chain.steps.forEach((step, s) => this.steps.push({ step, ...at(pointer(['steps', s])) }));
      chain.causes.forEach((cause, s) => this.causes.push({ cause, ...at(pointer(['causes', s])) }));
    });
    for (const one of this.causes) listed(this.causing, one.cause.of).push(one);
    for (const one of this.steps) {
      const { step } = one;
      if ('tagged' in step && step.tagged !== '') listed(this.tagged, step.tagged).push(one);
      else for (const target of this.targets(step)) listed(this.named, target).push(one);
    }
  }

  name(id: string): string {
    return `“${this.things.get(id)?.thing.name.trim() ?? id}”`;
  }

  /** The ids that a step acts on: what it names, or all that have its tag; the same list for all steps of a kind and a tag. */
  targets(step: Step): readonly string[] {
    if (!('tagged' in step) || step.tagged === '') return targetsOf(this.level, step);
    const key = `${step.kind} ${step.tagged}`;
    let found = this.tags.get(key);
    if (found === undefined) {
      found = targetsOf(this.level, step);
      this.tags.set(key, found);
    }
    return found;
  }

  /** Whether a step acts on a thing. */
  actsOn(step: Step, id: string): boolean {
    const thing = this.things.get(id);
    return thing !== undefined && actsOn(step, thing);
  }

  /** The causes that an event of a thing fulfils. */
  causesOf(id: string): readonly CauseAt[] {
    return this.causing.get(id) ?? [];
  }

  /** The steps of some kinds that act on a thing, those by its name first; the same list for all things that only their tags tell apart. */
  stepsOn(id: string, kinds: readonly Step['kind'][]): readonly StepAt[] {
    const found = this.things.get(id);
    const named = (this.named.get(id) ?? []).filter(({ step }) => kinds.includes(step.kind));
    const tags: readonly string[] = found !== undefined && 'tags' in found.thing ? (found.thing as { tags: string[] }).tags : [];
    if (tags.length === 0 || this.tagged.size === 0) return named;
    const key = `${kinds.join()} ${found!.word} ${tags.join('\n')}`;
    let shared = this.shared.get(key);
    if (shared === undefined) {
      shared = tags
        .flatMap((tag) => this.tagged.get(tag) ?? [])
        .filter(({ step }) => kinds.includes(step.kind) && actsOn(step, found!));
      this.shared.set(key, shared);
    }
    return named.length === 0 ? shared : [...named, ...shared];
  }

  /** What is made of a list, under a name: found once for each list, however many share it. */
  once<L extends object, T>(of: L, name: string, make: (of: L) => T): T {
    let known = this.kept.get(of);
    if (known === undefined) {
      known = new Map();
      this.kept.set(of, known);
    }
    if (!known.has(name)) known.set(name, make(of));
    return known.get(name) as T;
  }

  /** The steps that act on a thing by its name. */
  namedOn(id: string): readonly StepAt[] {
    return this.named.get(id) ?? [];
  }

  /** The chains of some steps, each once; of very many the first. */
  chainsOf(steps: readonly StepAt[]): string[] {
    return this.once(steps, 'chains', () => firstOf(new Set(steps.map(({ chain }) => chain.id))));
  }

  pathOf(id: string): string {
    const found = this.things.get(id);
    return found === undefined ? '' : pointer([found.collection, found.index]);
  }

  /** The edit that gives a value of a thing; null if it is not there. */
  set(id: string, path: string, value: unknown): Edit | null {
    const found = this.things.get(id);
    if (found === undefined) return null;
    const field = path.split('/')[1]!;
    const after = withValue(found.thing, path, value) as unknown as Record<string, unknown>;
    return change(found.collection, found.thing, { [field]: after[field] } as Partial<Thing>);
  }
}

/** The first of some ids, as many as a warning names. */
export function firstOf(ids: Iterable<string>): string[] {
  const found: string[] = [];
  for (const id of ids) {
    if (found.length >= MAX_NAMED) break;
    found.push(id);
  }
  return found;
}

function listed<T>(lists: Map<string, T[]>, key: string): T[] {
  let found = lists.get(key);
  if (found === undefined) {
    found = [];
    lists.set(key, found);
  }
  return found;
}

/** Finds one kind of mistake; what it gives one by one can be interrupted in between. */
export type WarningRule = (look: CheckContext) => Iterable<Warning>;
