import { forEach } from './visitor-step';

export const holdVisitor = {
  ...forEach('hold-visitor', 'lock a visitor’s controls', 'hold ', '', (stage, id) => stage.control(id, true)),
  control: 'takes' as const,
  raises: { start: ['changed' as const] },
};
