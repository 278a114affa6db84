import type { VisitorState } from './world';

/** What a visitor is at between two ticks. */
export type Activity =
  /** Not in play. */
  | 'out-of-play'
  /** It flies, falls or is pushed. */
  | 'moved'
  /** It has done all that it was told. */
  | 'done'
  /** Somebody carries it, or its control is held, while there is something left that it was told. */
  | 'held-up'
  /** Something is in its way. */
  | 'blocked'
  /** It waits as it was told to, or for a start that comes later. */
  | 'waiting'
  /** It goes somewhere, or begins with the next thing that it was told. */
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
