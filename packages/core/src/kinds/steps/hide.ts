import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const hide = fixtureStep('hide', {
  label: 'hide a fixture',
  verb: 'hide',
  accepts: anyFixture,
  sets: ['shown', false],
  wish: 'Visibility and collision',
  also: 'disappear vanish make invisible take away',
});
