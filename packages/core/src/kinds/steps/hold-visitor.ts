import { forEach } from './visitor-step';

export const holdVisitor = {
  ...forEach('hold-visitor', "hold a visitor's control", 'hold ', '', (stage, id) => stage.control(id, true)),
  control: 'takes' as const,
  raises: { start: ['changed' as const] },
};
