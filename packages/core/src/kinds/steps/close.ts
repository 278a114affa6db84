import { doorStep } from './door-step';

export const close = doorStep('close', 'close a door', 'closed');
