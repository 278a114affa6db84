// Unit tests of every package; the interface is driven in a browser by e2e/jest.config.mjs.
import { join } from 'node:path';

const tsconfig = join(import.meta.dirname, 'tsconfig.jest.json');
const typescript = { '^.+\\.[tj]s$': ['ts-jest', { tsconfig, diagnostics: false }] };
// Published as modules only.
const modules = 'node_modules/(?!@marcbachmann|pure-rand)';
// Looked up in the context of a test these are many times slower.
const globals = ['Math', 'Infinity', 'Number', 'Object', 'Array', 'Map', 'Set', 'WeakMap', 'JSON', 'String', 'Float64Array'];
const node = (folder) => ({
  displayName: folder.split('/').at(-1),
  rootDir: folder,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/test/**/*.spec.ts'],
  transform: typescript,
  transformIgnorePatterns: [modules],
  sandboxInjectedGlobals: globals,
});

export default {
  testTimeout: 30_000,
  projects: [
    node('packages/core'),
    node('packages/contract'),
    node('apps/server'),
    node('apps/cli'),
    node('scripts'),
    {
      displayName: 'web',
      rootDir: 'apps/web',
      preset: 'jest-preset-angular',
      setupFilesAfterEnv: ['<rootDir>/test/setup.ts'],
      testMatch: ['<rootDir>/test/**/*.spec.ts'],
      transform: {
        '^.+\\.(ts|mjs|js|html)$': [
          'jest-preset-angular',
          { tsconfig: '<rootDir>/tsconfig.spec.json', stringifyContentPathRegex: '\\.html$' },
        ],
      },
      transformIgnorePatterns: [
        'node_modules/(?!(.*\\.mjs$|d3-.*|internmap|nanoid|idb|flatbush|flatqueue|ng-zorro-antd|@angular|@ngrx|@ant-design|date-fns|@marcbachmann))',
      ],
    },
  ],
};
