import { transform } from '../jest.config.mjs';

// The interface driven in Debian's Chromium, against the built studio and a real server and database.
export default {
  rootDir: '.',
  displayName: 'browser',
  testEnvironment: 'node',
  testMatch: ['<rootDir>/**/*.e2e.ts'],
  testTimeout: 180_000,
  testSequencer: '<rootDir>/longest-first.mjs',
  // Published as modules only.
  transformIgnorePatterns: ['node_modules/(?!@marcbachmann|pure-rand)'],
  transform,
};
