import type { Level } from '../../document/level';
import { badArrivals, leftBehind, oneWayTwins, sentStraightBack, skidsOn, unreachablePoints, unsetTargets } from './arriving';
import {
  claimedAgain,
  closesOnTheSecond,
  gatheredByOthers,
  idleTail,
  neverChanges,
  neverDisarmed,
  opensToAnybody,
  slipsPast,
  tooLight,
  tooMuchShowing,
} from './lasting';
import {
  closesOnTheVisitor,
  coversItsDoorway,
  leftBehindByItsArea,
  neverCloses,
  nothingBringsItBack,
  thinnerThanATick,
  widerThanItServes,
} from './moving';
import { activeFromTheStart, neverReleased, thereFromTheStart } from './starting';
import { anybodySetsItOff, idleChains, silentVisitors, strangeTags, unheardSignals } from './telling';
import { Look } from './warning';
import type { Finder, Warning } from './warning';

const finders: readonly Finder[] = [
  unheardSignals,
  strangeTags,
  silentVisitors,
  idleChains,
  thereFromTheStart,
  activeFromTheStart,
  neverReleased,
  sentStraightBack,
  badArrivals,
  oneWayTwins,
  unsetTargets,
  leftBehind,
  unreachablePoints,
  leftBehindByItsArea,
  widerThanItServes,
  nothingBringsItBack,
  coversItsDoorway,
  closesOnTheVisitor,
  thinnerThanATick,
  slipsPast,
  closesOnTheSecond,
  opensToAnybody,
  claimedAgain,
  neverChanges,
  neverDisarmed,
  idleTail,
  tooMuchShowing,
  gatheredByOthers,
  tooLight,
  anybodySetsItOff,
  neverCloses,
  skidsOn,
];

/** What will probably not do what is meant, found without rehearsing: warnings first, then remarks. */
export function warningsOf(level: Level): Warning[] {
  const look = new Look(level);
  const found = finders.flatMap((find) => find(look));
  return [...found.filter(({ weight }) => weight === 'warning'), ...found.filter(({ weight }) => weight === 'remark')];
}

export type { Warning } from './warning';
