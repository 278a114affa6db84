export * from './levels';
export * from './problem';
