import { fixturesThatCan } from '../words';
import { fixtureStep } from './fixture-step';

export const makePassable = fixtureStep('make-passable', {
  label: 'make a fixture passable',
  verb: 'make passable',
  accepts: fixturesThatCan('be solid'),
  sets: ['solid', false],
  wish: 'Visibility and collision',
  also: 'walk through ghost no collision',
});
