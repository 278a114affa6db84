import { doorStep } from './door-step';

export const open = doorStep('open', 'open a door', 'open');
