import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const makeOpaque = fixtureStep('make-opaque', {
  label: 'make a fixture opaque again',
  verb: 'make opaque',
  accepts: anyFixture,
  sets: ['seeThrough', false],
  wish: 'Visibility and collision',
  also: 'fade in solid look',
});
