import { forEach } from './visitor-step';

export const remove = forEach('remove', {
  label: 'remove a visitor',
  phrase: ['remove ', ' from play'],
  raises: { start: ['removed'] },
  wish: 'Visitors',
  also: 'destroy delete kill take away',
  act: (stage, id) => stage.remove(id),
});
