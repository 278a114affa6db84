import { doorStep } from './door-step';

export const close = doorStep('close', { label: 'close a door', to: 'closed', wish: 'Motion', also: 'door gate shut lower' });
