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

export default {
  projects: [
    plain('core', 'core'),
    plain('server', 'server'),
    plain('cli', 'cli'),
    plain('web', 'web'),
  ],
  testTimeout: 300_000,
};
