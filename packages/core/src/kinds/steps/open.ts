import { doorStep } from './door-step';

export const open = doorStep('open', { label: 'open a door', to: 'open', wish: 'Motion', also: 'door gate raise slide' });
