import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const makeOpaque = fixtureStep(
  'make-opaque',
  'make a fixture opaque again',
  'make opaque',
  anyFixture,
  'seeThrough',
  false,
);
