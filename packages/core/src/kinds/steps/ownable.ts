import { anyFixture } from '../words';
import type { ThingWord } from '../words';

/** What can have an owner. */
export const ownable: readonly ThingWord[] = ['zone', ...anyFixture];
