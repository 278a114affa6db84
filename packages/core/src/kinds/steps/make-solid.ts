import { fixturesThatCan } from '../words';
import { fixtureStep } from './fixture-step';

const movable = fixturesThatCan('be solid');

export const makeSolid = fixtureStep('make-solid', 'make a fixture solid', 'make solid', movable, 'solid', true);
