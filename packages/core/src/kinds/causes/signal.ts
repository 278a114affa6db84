import { causeKind } from './cause-kind';

/** A signal is sent, to everyone or to who is addressed. */
export const signal = causeKind({
  verb: 'is sent',
  saidOf: 'thing',
  isAddressed: true,
  sources: ['signal'],
});
