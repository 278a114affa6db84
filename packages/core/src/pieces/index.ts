import {
  claimableDoor,
  closingWall,
  doorBothHalves,
  doorForVisitors,
  mazeWalls,
  pocketGate,
  stagedWall,
  weightGate,
} from './doors';
import {
  bumpPost,
  elevatorCalled,
  elevatorRidden,
  generalTrigger,
  mapMarker,
  oneThenAnother,
  sinkingLift,
  tokensGate,
} from './events';
import { guardPiece, padPair, padWithArrival, portalPair, thrownFetches, useToBeThere, warpAndBack } from './passages';
import type { SetPiece } from './piece';

/** Every set piece, in the order in which they are listed. */
export const setPieces: readonly SetPiece[] = [
  doorForVisitors,
  pocketGate,
  doorBothHalves,
  claimableDoor,
  weightGate,
  stagedWall,
  closingWall,
  mazeWalls,
  elevatorRidden,
  sinkingLift,
  elevatorCalled,
  portalPair,
  padPair,
  padWithArrival,
  warpAndBack,
  useToBeThere,
  thrownFetches,
  guardPiece,
  tokensGate,
  bumpPost,
  mapMarker,
  oneThenAnother,
  generalTrigger,
];

export { placePiece } from './piece';
export { setOff, waysToSetOff } from './setting-off';
export type { Answers, Question, SetPiece } from './piece';
