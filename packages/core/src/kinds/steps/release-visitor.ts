import { forEach } from './visitor-step';

export const releaseVisitor = forEach('release-visitor', {
  label: 'unlock a visitor’s controls',
  phrase: ['release ', ''],
  control: 'gives back',
  raises: { start: ['changed'] },
  wish: 'Visitors',
  also: 'release control unfreeze give back input',
  act: (stage, id) => stage.control(id, false),
});
