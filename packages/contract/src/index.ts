export * from './levels';
export * from './problem';
export * from './routes';
