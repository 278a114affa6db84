import { heardAs } from '../causes';
import type { Gate } from './gate';

/** Gate 2: the visitor raises overlaps. */
export const silentGate: Gate = ({ event }) =>
  event === undefined || event.raised || !heardAs(event.kind)?.fromOverlap ? null : { reason: 'silent-visitor' };
