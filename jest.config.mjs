// Unit tests of every package; the interface is driven in a browser by e2e/jest.config.mjs.
/** Types are checked by the compiler, once for all; for a run they are only taken away. */
const stripped = [
  '@swc/jest',
  { jsc: { parser: { syntax: 'typescript', decorators: true }, target: 'es2022' }, module: { type: 'commonjs' } },
];
export const transform = { '^.+\\.[tj]s$': stripped };
// Published as modules only.
const modules = 'node_modules/(?!@marcbachmann|pure-rand)';
// Looked up in the context of a test these are many times slower.
const globals = ['Math', 'Infinity', 'Number', 'Object', 'Array', 'Map', 'Set', 'WeakMap', 'JSON', 'String', 'Float64Array'];
const node = (folder) => ({
  displayName: folder.split('/').at(-1),
  rootDir: folder,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/test/**/*.spec.ts'],
  transform,
  transformIgnorePatterns: [modules],
  sandboxInjectedGlobals: globals,
});

export default {
  testTimeout: 120_000,
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
        // What has no templates.
        'packages/.+\\.ts$': stripped,
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
