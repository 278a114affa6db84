import type { Collectible, Passage, Switch } from '../../kinds/fixtures';
import { filtered } from '../../kinds/gates/filter';
import { collect } from '../bodies/belongings';
import { visitorOf } from '../queue/drain';
import { raiseFromStep, schedule, touch, write } from '../rehearsing';
import type { Rehearsing } from '../rehearsing';
import type { Happening } from '../world';
import { ticksOf } from '../../vocabulary/ticks';
import { travel } from '../bodies/travel';

/** What fixtures do by themselves once an event has been heard: passages take visitors, collectibles are collected. */
export function answerEnter(rehearsing: Rehearsing, { who, what }: Happening, entry: number): void {
  const fixture = rehearsing.plan.fixtures.get(what!);
  if (who === null || fixture === undefined) return;
  if (fixture.kind === 'collectible') beTaken(rehearsing, fixture, who, entry);
  if ((fixture.kind === 'teleporter' || fixture.kind === 'warp') && fixture.takes === 'who-enters')
    take(rehearsing, fixture, who, entry, 'enter');
}

/** A switch that was used changes over; a passage takes who uses it. */
export function answerUse(rehearsing: Rehearsing, { who, what, details }: Happening, entry: number): void {
  const fixture = rehearsing.plan.fixtures.get(what!);
  if (fixture === undefined || details['use'] !== 'use') return;
  if (fixture.kind === 'switch') changeOver(rehearsing, fixture, who, entry);
  if ((fixture.kind === 'teleporter' || fixture.kind === 'warp') && fixture.takes === 'who-uses' && who !== null)
    take(rehearsing, fixture, who, entry, 'use');
}

function take(rehearsing: Rehearsing, fixture: Passage, who: string, entry: number, event: string): void {
  const { state, plan } = rehearsing;
  const shut = filtered(fixture.filter, visitorOf(rehearsing, who), state.owners.get(fixture.id) ?? null);
  if (shut !== null) {
    const details = { event, reason: shut.reason, ...shut.details };
    write(rehearsing, { kind: 'held', who, what: fixture.id, cause: entry, details });
    return;
  }
  const visitor = state.visitors[plan.visitorOf.get(who)!]!;
  const problem = travel(rehearsing, visitor, fixture, fixture.kind === 'warp', entry, who);
  if (problem === null) return;
  const details = { event, reason: 'impossible', problem };
  write(rehearsing, { kind: 'held', who, what: fixture.id, cause: entry, details });
}

function beTaken(rehearsing: Rehearsing, fixture: Collectible, who: string, entry: number): void {
  const visitor = visitorOf(rehearsing, who);
  if (visitor !== undefined && fixture.takenBy.includes(visitor.kind)) collect(rehearsing, fixture.id, entry, who);
}

/** Changes a switch over: one that works once, once; a momentary one until it springs back. */
function changeOver(rehearsing: Rehearsing, fixture: Switch, who: string | null, entry: number): void {
  const { state, plan } = rehearsing;
  const own = state.switches.get(fixture.id)!;
  if (fixture.works === 'once' && own.uses > 0) {
    const details = { event: 'use', reason: 'used-up', limit: 1, used: own.uses };
    write(rehearsing, { kind: 'held', who, what: fixture.id, cause: entry, details });
    return;
  }
  own.uses += 1;
  own.token += 1;
  if (fixture.works !== 'momentary' || own.on === fixture.on) put(rehearsing, fixture.id, !own.on, who, entry);
  if (fixture.works !== 'momentary') return;
  const item = { do: 'spring-back', switch: fixture.id, token: own.token, cause: entry, hand: who } as const;
  const ticks = ticksOf(fixture.springsBackAfter, plan.level.rate);
  if (ticks === 0) state.queue.push(item);
  else schedule(rehearsing, ticks, item);
}

/** A momentary switch goes back, unless it was used anew. */
export function springBack(rehearsing: Rehearsing, id: string, token: number, cause: number, hand: string | null): void {
  const own = rehearsing.state.switches.get(id)!;
  if (own.token === token) put(rehearsing, id, (rehearsing.plan.fixtures.get(id) as Switch).on, hand, cause);
}

function put(rehearsing: Rehearsing, id: string, on: boolean, who: string | null, cause: number): void {
  const own = rehearsing.state.switches.get(id)!;
  if (own.on === on) return;
  own.on = on;
  touch(rehearsing, 'fixtures');
  raiseFromStep(rehearsing, { kind: on ? 'on' : 'off', who, what: id, cause, details: {} });
}
