import { fixturesThatCan } from '../words';
import { fixtureStep } from './fixture-step';

export const makeSolid = fixtureStep('make-solid', {
  label: 'make a fixture solid',
  verb: 'make solid',
  accepts: fixturesThatCan('be solid'),
  sets: ['solid', true],
  wish: 'Visibility and collision',
  also: 'block collide collision',
});
