import presets from 'jest-preset-angular/presets/index.js';

const { createEsmPreset } = presets;
const resolve = {
  // Sources import each other with the .js ending that ECMAScript modules need.
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
};
const plain = (name, dir) => ({
  displayName: name,
  rootDir: dir,
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      'ts-jest',
      {
        useESM: true,
        tsconfig: '<rootDir>/../tsconfig.json',
        diagnostics: false,
      },
    ],
  },
  testMatch: ['<rootDir>/**/*.test.ts'],
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/.angular'],
  ...resolve,
});

/** The page's own: Angular as it is compiled for the browser, in a document of its own. */
const web = {
  ...createEsmPreset({ tsconfig: '<rootDir>/tsconfig.spec.json', diagnostics: false }),
  displayName: 'web',
  rootDir: 'web',
  testEnvironment: 'jest-preset-angular/environments/jest-jsdom-env',
  setupFilesAfterEnv: ['<rootDir>/testing/angular.ts'],
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/testing/**/*.test.ts'],
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/.angular'],
  ...resolve,
};

export default {
  projects: [
    plain('core', 'core'),
    plain('store', 'store'),
    plain('server', 'server'),
    plain('cli', 'cli'),
    web,
  ],
  testTimeout: 300_000,
};
