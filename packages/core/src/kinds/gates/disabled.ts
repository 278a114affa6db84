import type { EntryKind } from '../../vocabulary/entries';
import { fromOverlap } from './gate';
import type { Gate } from './gate';

/** What a thing that is disabled does not raise: what visitors do to it, and its own motions' ends. */
const byVisitors = new Set<EntryKind>([...fromOverlap, 'use', 'on', 'off', 'moving', 'opened', 'closed', 'arrived']);

/** Gate 1: the thing that an event comes from is enabled. */
export const disabledGate: Gate = ({ event }) =>
  event === undefined || event.enabled || !byVisitors.has(event.kind) ? null : { reason: 'disabled' };
