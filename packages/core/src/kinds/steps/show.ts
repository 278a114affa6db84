import { anyFixture } from '../words';
import { fixtureStep } from './fixture-step';

export const show = fixtureStep('show', 'show a fixture', 'show', anyFixture, 'shown', true);
