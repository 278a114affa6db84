import type { VisitorState } from './world';

/** What a visitor is at between two ticks. */
export type Activity =
  /** Not in play. */
  | 'out-of-play'
  /** It flies, falls or is pushed. */
  | 'moved'
  /** All its instructions are done. */
  | 'done'
  /** It is carried, or its control is held, and instructions are left. */
  | 'held-up'
  /** Something is in its way. */
  | 'blocked'
  /** It waits by instruction, or for a late start. */
  | 'waiting'
  /** It walks, or begins its next instruction. */
  | 'busy';

/** What a visitor is at. */
export function activityOf({ inPlay, flight, push, forced, route, carriedBy, held }: VisitorState): Activity {
  if (!inPlay) return 'out-of-play';
  if (flight !== null || push !== null) return 'moved';
  if (forced === null && (route === null || route.at >= route.instructions.length)) return 'done';
  if (carriedBy !== null || (forced === null && held)) return 'held-up';
  if ((forced ?? route)!.going?.blocked === true) return 'blocked';
  return forced === null && route!.waiting !== null ? 'waiting' : 'busy';
}
