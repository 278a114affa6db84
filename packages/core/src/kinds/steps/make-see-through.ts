import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const makeSeeThrough = fixtureStep(
  'make-see-through',
  'make a fixture half seen through',
  'make half seen through',
  anyFixture,
  'seeThrough',
  true,
);
