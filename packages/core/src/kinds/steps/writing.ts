import { z } from 'zod';
import type { Slot } from '../../vocabulary/phrase';

/** What a step writes, with its label. */
export const says = (label: string, value: string): Slot => ({ path: '/text', label, value, input: { kind: 'text', max: 500 } });
/** A text that a step writes. */
export const written = z.string().max(500).meta({ description: '{visitor} stands for the name of the visitor that caused it' });
