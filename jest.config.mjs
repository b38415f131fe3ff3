const project = (name, more) => ({
  displayName: name,
  rootDir: name,
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts'],
  transform: { '^.+\\.ts$': ['<rootDir>/../scripts/jest-bundle.mjs', {}] },
  testMatch: ['<rootDir>/**/*.test.ts'],
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/.angular'],
  // Which tests a change concerns is seen by what they import: sources write the ending that modules need.
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  ...more,
});

export default {
  globalSetup: './scripts/jest-packages.mjs',
  projects: [
    project('core'),
    project('store'),
    project('server'),
    project('cli'),
    // The page's own: Angular as it is compiled for the browser, in a document of its own.
    project('web', {
      testEnvironment: 'jest-preset-angular/environments/jest-jsdom-env',
      transform: {
        '^.+\\.ts$': ['<rootDir>/../scripts/jest-bundle.mjs', { page: 'web/testing/angular.ts' }],
      },
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/testing/**/*.test.ts'],
    }),
  ],
  // What waits longer is red; long random runs say their own.
  testTimeout: 60_000,
};
