import { fixturesThatCan } from '../words';
import { fixtureStep } from './fixture-step';

const movable = fixturesThatCan('be solid');

export const makePassable = fixtureStep('make-passable', 'make a fixture passable', 'make passable', movable, 'solid', false);
