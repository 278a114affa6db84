import type { Level } from '../../document/level';
import { alreadySo, contradicts, moreThanThereIs, saysNothing } from './already';
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
import { hiddenButSolid, movesNowhere, neverEnabled, neverInPlay, noSuchStop, ownTwin, solidWhereEntered } from './never';
import { nobodyCanBeIn, nobodyInPlay, startsWhereNobodyCan } from './standing';
import { activeFromTheStart, neverReleased, thereFromTheStart } from './starting';
import { anybodySetsItOff, idleChains, silentVisitors, similarTags, strangeTags, unheardSignals } from './telling';
import { neverMayStart, neverRaised, nobodyIsMeant, nobodyOwns } from './unfulfilled';
import { wiredTwice } from './unwired';
import { CheckContext } from './warning';
import type { WarningRule, Warning } from './warning';

const finders: readonly WarningRule[] = [
  unheardSignals,
  strangeTags,
  similarTags,
  silentVisitors,
  idleChains,
  solidWhereEntered,
  neverEnabled,
  neverInPlay,
  movesNowhere,
  noSuchStop,
  ownTwin,
  hiddenButSolid,
  neverRaised,
  nobodyIsMeant,
  nobodyOwns,
  neverMayStart,
  alreadySo,
  moreThanThereIs,
  contradicts,
  saysNothing,
  startsWhereNobodyCan,
  nobodyCanBeIn,
  nobodyInPlay,
  wiredTwice,
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

/** The number of warnings after which checking can be interrupted. */
const WARNINGS_PER_SLICE = 250;

/** Finds what will probably not do what is meant, finder by finder; between two, and after every few warnings, it can be interrupted. */
export function* findWarnings(level: Level): Generator<undefined, Warning[]> {
  const look = new CheckContext(level);
  const found: Warning[] = [];
  for (const find of finders) {
    yield;
    for (const warning of find(look)) {
      found.push(warning);
      if (found.length % WARNINGS_PER_SLICE === 0) yield;
    }
  }
  return [...found.filter(({ weight }) => weight === 'warning'), ...found.filter(({ weight }) => weight === 'remark')];
}

/** What will probably not do what is meant, found without rehearsing: warnings first, then remarks. */
export function warningsOf(level: Level): Warning[] {
  const finding = findWarnings(level);
  for (;;) {
    const next = finding.next();
    if (next.done === true) return next.value;
  }
}

export type { Warning } from './warning';
