import { doorStep } from './door-step';

export const toggle = doorStep('toggle', 'open or close a door', 'other');
