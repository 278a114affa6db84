import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const show = fixtureStep('show', {
  label: 'show a fixture',
  verb: 'show',
  accepts: anyFixture,
  sets: ['shown', true],
  wish: 'Visibility and collision',
  also: 'appear reveal make visible',
});
