import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const hide = fixtureStep('hide', 'hide a fixture', 'hide', anyFixture, 'shown', false);
