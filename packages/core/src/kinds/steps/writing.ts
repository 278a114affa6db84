import { mostOf, wording } from '../../vocabulary/quantities';
import type { Slot } from '../../vocabulary/phrase';

/** What a step writes, with its label. */
export const says = (label: string, value: string): Slot => ({
  path: '/text',
  label,
  value,
  input: { kind: 'text', max: mostOf(wording) },
});
/** A text that a step writes. */
export const written = wording.meta({ description: '{visitor} stands for the name of the visitor that caused it' });
