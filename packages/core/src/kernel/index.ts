export { movesFreely } from './physics/bodies';
export type { Reachable } from './physics/handling';

export { copy, fromKey, stateKey } from './state/world-fields';
export { clockOf } from './state/positions';
export { activityIn, give, handyIn, head, letGo, lookAtAll, start, stride, tellPlaces, tick, verdictIn, whereIs } from './kernel';
export type { Ended } from './kernel';
export type { Activity } from './state/activity';
export { variations } from './state/jitter';
export { rulePolicy } from './state/orders';
export type { OrderPolicy, ChoicePoint } from './state/orders';
export { compileLevel } from './state/plan';
export type { CompiledLevel } from './state/plan';
export { noopListener } from './state/listener';
export type { WorldListener } from './state/listener';
export type { VisitorState, World } from './state/world';
