import { forEach } from './visitor-step';

export const stopVelocity = forEach('stop-velocity', {
  label: "stop a visitor's velocity",
  phrase: ['stop ', ' where it is'],
  wish: 'Visitors',
  also: 'halt rest skid brake',
  act: (stage, id) => stage.stopVelocity(id),
});
