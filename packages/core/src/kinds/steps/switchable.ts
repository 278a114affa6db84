import { anyFixture } from '../words';
import type { ThingWord } from '../words';

/** What can be enabled and disabled. */
export const switchable: readonly ThingWord[] = ['zone', ...anyFixture, 'chain'];
