import type { ThingWord } from '../words';

/** One kind of cause: what can raise it, what it has to pass, and its words. */
export interface CauseKind {
  /** What it is called in a sentence, after its visitor or its thing: "enters", "has opened". */
  verb: string;
  /** Whether it is said of the visitor, of the thing and whoever set that off, or of the thing alone. */
  saidOf: 'visitor' | 'thing' | 'alone';
  /** What leads to whoever set it off, in place of ", set off by ". */
  by?: string;
  /** Whether a visitor that raises no overlaps does not raise it. */
  fromOverlap?: true;
  /** Whether a thing that is disabled does not raise it. */
  needsEnabled?: true;
  /** What it is called when only the first one in or the last one out counts, if that can be asked. */
  once?: string;
  /** Whether it may be meant for some things alone, as they hear it. */
  isAddressed?: true;
  /** What it can come from, beside the fixtures that raise it of their own. */
  sources?: readonly ThingWord[];
}

/** Declares a kind of cause. */
export function causeKind(kind: CauseKind): CauseKind {
  return kind;
}
