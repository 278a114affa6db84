import { forEach } from './visitor-step';

export const remove = {
  ...forEach('remove', 'remove a visitor', 'remove ', ' from play', (stage, id) => stage.remove(id)),
  raises: { start: ['removed' as const] },
};
