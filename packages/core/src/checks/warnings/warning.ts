import type { Chain } from '../../document/chains';
import { change } from '../../document/edits';
import type { Edit } from '../../document/edits';
import { collections } from '../../document/level';
import type { Level, Thing } from '../../document/level';
import { lookup } from '../../document/lookup';
import { targetsOf } from '../../document/targets';
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

/** A level as the checks look at it: every step and cause with its chain, and what acts on what. */
export class Look {
  readonly things;
  readonly steps: StepAt[] = [];
  readonly causes: CauseAt[] = [];

  private causing: Map<string, CauseAt[]> | null = null;
  private acting: Map<string, StepAt[]> | null = null;

  constructor(readonly level: Level) {
    this.things = lookup(level);
    level.chains.forEach((chain, c) => {
      const at = (own: string) => ({ chain, own, path: pointer(['chains', c]) + own });
      chain.steps.forEach((step, s) => this.steps.push({ step, ...at(pointer(['steps', s])) }));
      chain.causes.forEach((cause, s) => this.causes.push({ cause, ...at(pointer(['causes', s])) }));
    });
  }

  name(id: string): string {
    return `“${this.things.get(id)?.thing.name.trim() ?? id}”`;
  }

  /** The ids that a step acts on: what it names, or all that have its tag. */
  targets(step: Step): string[] {
    return targetsOf(this.level, step);
  }

  /** The causes that an event of a thing fulfils. */
  causesOf(id: string): readonly CauseAt[] {
    if (this.causing === null) {
      this.causing = new Map();
      for (const one of this.causes) {
        const known = this.causing.get(one.cause.of);
        if (known === undefined) this.causing.set(one.cause.of, [one]);
        else known.push(one);
      }
    }
    return this.causing.get(id) ?? [];
  }

  /** The steps of some kinds that act on a thing. */
  stepsOn(id: string, kinds: readonly Step['kind'][]): StepAt[] {
    if (this.acting === null) {
      this.acting = new Map();
      for (const one of this.steps)
        for (const target of this.targets(one.step)) {
          const known = this.acting.get(target);
          if (known === undefined) this.acting.set(target, [one]);
          else known.push(one);
        }
    }
    return (this.acting.get(id) ?? []).filter(({ step }) => kinds.includes(step.kind));
  }

  pathOf(id: string): string {
    for (const collection of collections) {
      const at = (this.level[collection] as Thing[]).findIndex((one) => one.id === id);
      if (at >= 0) return pointer([collection, at]);
    }
    return '';
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

/** Finds one sort of mistake. */
export type Finder = (look: Look) => Warning[];
