import { forEach } from './visitor-step';

export const releaseVisitor = forEach('release-visitor', "release a visitor's control", 'release ', '', (stage, id) =>
  stage.control(id, false),
);
