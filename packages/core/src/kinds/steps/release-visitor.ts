import { forEach } from './visitor-step';

export const releaseVisitor = {
  ...forEach('release-visitor', 'unlock a visitor’s controls', 'release ', '', (stage, id) => stage.control(id, false)),
  control: 'gives back' as const,
  raises: { start: ['changed' as const] },
};
