import { forEach } from './visitor-step';

export const stopVelocity = forEach('stop-velocity', "stop a visitor's velocity", 'stop ', ' where it is', (stage, id) =>
  stage.stopVelocity(id),
);
