import angular from 'angular-eslint';
import importX from 'eslint-plugin-import-x';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import tseslint from 'typescript-eslint';

/** Core's folders in the order in which they may know each other: each only those before it. */
const ORDER = ['document', 'wire', 'surface', 'host', 'profile', 'round', 'standin'];
/** What may use all of these and not each other. */
const LEAVES = ['teach', 'find', 'propose', 'trace', 'check', 'formats'];

/** The page's rooms in the order in which they may know each other. */
const ROOMS = ['engine', 'state', 'shared', 'features', 'shell'];
/** What may use the rooms before it and not each other. */
const FEATURES = ['profiles', 'bind', 'surfaces', 'hosts', 'ports'];
const PAGE = './web/src/app';

const zones = [
  ...ROOMS.slice(0, -1).map((room, at) => ({
    target: `${PAGE}/${room}`,
    from: ROOMS.slice(at + 1).map((later) => `${PAGE}/${later}`),
    message: `${room}/ comes earlier in the page: imports go one way.`,
  })),
  ...FEATURES.map((feature) => ({
    target: `${PAGE}/features/${feature}`,
    from: FEATURES.filter((other) => other !== feature).map((other) => `${PAGE}/features/${other}`),
    message: 'Screens do not know each other; what two need is shared.',
  })),
  ...ORDER.map((folder, at) => ({
    target: `./core/${folder}`,
    from: [...ORDER.slice(at + 1), ...LEAVES].map((later) => `./core/${later}`),
    message: `core/${folder} comes earlier in the house: imports go one way.`,
  })),
  ...LEAVES.map((folder) => ({
    target: `./core/${folder}`,
    from: LEAVES.filter((other) => other !== folder).map((other) => `./core/${other}`),
    message: 'Teaching, proposals, traces, checks and formats do not know each other.',
  })),
  {
    target: './core/round/plan',
    from: ['live', 'forward', 'return', 'cables'].map((room) => `./core/round/${room}`),
    message: 'A plan knows nothing of how it runs.',
  },
  {
    target: './core/round/{forward,return,cables,live,plan}',
    from: './core/round/engine.ts',
    message: 'The engine drives the round; no stage drives the engine.',
  },
  {
    target: './core',
    from: ['./store', './server', './web', './cli', './e2e'],
    message: 'Core knows nobody.',
  },
  {
    target: './store',
    from: ['./server', './web', './cli', './e2e'],
    message: 'The store knows only core.',
  },
  {
    target: './server',
    from: ['./web', './cli', './e2e'],
    message: 'The server knows core and the store.',
  },
  {
    target: './web/src/midi',
    from: './web/src/app',
    message: 'Who holds the ports knows no page.',
  },
  {
    target: './web/src/glass',
    from: './web/src/app',
    except: ['./shared/panel/geometry.ts'],
    message: 'A surface on glass has nothing of the page but how a panel is laid out.',
  },
  {
    target: './web',
    from: ['./store', './server', './cli', './e2e'],
    message: 'The page knows only core.',
  },
  {
    target: './cli',
    from: ['./server', './web', './e2e'],
    message: 'The command knows core and the store.',
  },
];
/** The round is tested with the simulated surfaces and hosts, which come after it. */
const zonesOfRoundTests = zones.map((zone) =>
  zone.target === './core/round'
    ? { ...zone, from: zone.from.filter((folder) => folder !== './core/standin') }
    : zone,
);

export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      '**/node_modules/',
      '.angular/',
      'web/.angular/',
      'data/',
      'test-results/',
    ],
  },
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.strict, ...tseslint.configs.stylistic],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [
        createTypeScriptImportResolver({ project: ['tsconfig.json', 'web/tsconfig.app.json'] }),
      ],
    },
    rules: {
      'import-x/no-restricted-paths': ['error', { zones }],
      'import-x/no-cycle': 'error',
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "ImportDeclaration[source.value='zod'][importKind!='type'] > ImportSpecifier[imported.name='z']",
          message:
            'Write `import * as z`: by its name alone it brings all its languages into each bundle.',
        },
      ],
      // Arrays are indexed within bounds that the code has just made.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      eqeqeq: 'error',
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['window', 'document', 'process', 'Buffer', 'performance', 'setTimeout'].map((name) => ({
          name,
          message: 'Core has no DOM and no Node API; time is passed in.',
        })),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Time is passed in.' },
      ],
    },
  },
  {
    files: ['core/round/**/*.test.ts'],
    rules: { 'import-x/no-restricted-paths': ['error', { zones: zonesOfRoundTests }] },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
  },
  {
    files: ['web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    rules: {
      // Keys of a host's picture are named by their `label`, and written on while it plays.
      '@angular-eslint/template/elements-content': ['error', { allowList: ['label'] }],
    },
  },
);
