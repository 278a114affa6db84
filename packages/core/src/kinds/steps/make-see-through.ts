import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const makeSeeThrough = fixtureStep('make-see-through', {
  label: 'make a fixture translucent',
  verb: 'make translucent',
  accepts: anyFixture,
  sets: ['seeThrough', true],
  wish: 'Visibility and collision',
  also: 'fade transparent half seen through glass',
});
