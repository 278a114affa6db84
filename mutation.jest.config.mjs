// What a changed core is tested with: the stories and the contract, without the properties, which take minutes each.
import config from './jest.config.mjs';

const core = config.projects.find((project) => project.displayName === 'core');

export default {
  ...core,
  displayName: undefined,
  testEnvironment: '@stryker-mutator/jest-runner/jest-env/node',
  testPathIgnorePatterns: ['kernels.spec', 'properties.spec', 'hostile.spec', 'stepping.spec', 'ways.spec', 'examples.spec'],
  testTimeout: 30_000,
};
