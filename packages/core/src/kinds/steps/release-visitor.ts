import { forEach } from './visitor-step';

export const releaseVisitor = {
  ...forEach('release-visitor', "release a visitor's control", 'release ', '', (stage, id) => stage.control(id, false)),
  control: 'gives back' as const,
  raises: { start: ['changed' as const] },
};
