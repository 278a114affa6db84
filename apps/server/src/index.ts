export { serve } from './serve';
export type { Serving, Settings } from './serve';
