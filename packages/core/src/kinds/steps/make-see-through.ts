import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const makeSeeThrough = fixtureStep(
  'make-see-through',
  'make a fixture translucent',
  'make translucent',
  anyFixture,
  'seeThrough',
  true,
);
