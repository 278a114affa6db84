import { fromOverlap } from './gate';
import type { Gate } from './gate';

/** Gate 2: the visitor raises overlaps. */
export const silentGate: Gate = ({ event }) =>
  event === undefined || event.raised || !fromOverlap.has(event.kind) ? null : { reason: 'silent-visitor' };
