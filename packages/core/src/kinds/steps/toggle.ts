import { doorStep } from './door-step';

export const toggle = doorStep('toggle', {
  label: 'open or close a door',
  to: 'other',
  wish: 'Motion',
  also: 'door gate switch flip',
});
