import { forEach } from './visitor-step';

export const holdVisitor = forEach('hold-visitor', {
  label: 'lock a visitor’s controls',
  phrase: ['hold ', ''],
  control: 'takes',
  raises: { start: ['changed'] },
  wish: 'Visitors',
  also: 'hold control freeze input stop cutscene',
  act: (stage, id) => stage.control(id, true),
});
