import { anyFixture, anyVisitor, bodiedFixture, machines } from '../../vocabulary/phrase';
import type { ThingWord } from '../../vocabulary/phrase';
import type { CauseEvent } from '../../vocabulary/events';

const senses: readonly ThingWord[] = ['zone', ...bodiedFixture];
export const everything: readonly ThingWord[] = [
  'zone',
  ...anyFixture,
  'flag',
  'counter',
  'text',
  'room',
  ...anyVisitor,
  'chain',
];

const sourcesOf: Record<CauseEvent, readonly ThingWord[]> = {
  enter: senses,
  leave: senses,
  dwell: senses,
  bump: bodiedFixture,
  use: [...bodiedFixture, 'prop'],
  on: ['switch'],
  off: ['switch'],
  press: ['plate'],
  release: ['plate'],
  moving: machines,
  opened: ['door'],
  closed: ['door'],
  arrived: ['elevator', 'mover', ...anyVisitor],
  signal: ['signal'],
  changed: everything,
  'became-true': ['watch'],
  'became-false': ['watch'],
  'chain-finished': ['chain'],
  teleported: anyVisitor,
  warped: anyVisitor,
  claimed: ['zone', ...anyFixture],
  collected: ['collectible'],
  spawned: anyVisitor,
  removed: anyVisitor,
  'cue-started': ['cue'],
  'cue-finished': ['cue'],
};

/** What an event can come from. */
export function sourcesFor(event: CauseEvent): readonly ThingWord[] {
  return sourcesOf[event];
}
