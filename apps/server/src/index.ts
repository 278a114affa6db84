export { serve } from './serve';
export type { Serving } from './serve';
export { settingsOf } from './settings';
export type { Settings } from './settings';
export { connect } from './storage/database';
export { LevelRepository, RECOVERABLE_DAYS } from './storage/level-repository';
