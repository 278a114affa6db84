import { heardAs } from '../causes';
import type { Gate } from './gate';

/** Gate 1: the thing that an event comes from is enabled, where it is visitors' doing or the end of its own motion. */
export const disabledGate: Gate = ({ event }) =>
  event === undefined || event.enabled || !heardAs(event.kind)?.needsEnabled ? null : { reason: 'disabled' };
