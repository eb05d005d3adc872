import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders of the core from the bottom up: each may import from those before it, never from those after. */
const LAYERS = [
  'errors',
  'schema',
  'time',
  'kernels',
  'pcm',
  'dsp',
  'measure',
  'process',
  'album',
  'cutting',
  'checks',
  'disc',
  'papers',
  'tags',
  'render',
];

/** What each folder of the core may import, beside itself: a pure vocabulary at the bottom, one direction upwards. */
const MAY_IMPORT = {
  errors: [],
  schema: [],
  time: [],
  kernels: [],
  pcm: ['time', 'kernels'],
  dsp: ['time', 'kernels', 'pcm'],
  measure: ['time', 'kernels', 'pcm', 'dsp'],
  process: ['schema', 'time', 'kernels', 'pcm', 'dsp'],
  album: ['schema', 'time', 'pcm', 'dsp', 'measure', 'process'],
  cutting: ['time', 'dsp', 'measure', 'album', 'disc'],
  disc: ['time', 'pcm', 'album'],
  tags: ['pcm', 'album', 'disc'],
  papers: ['schema', 'process', 'time', 'measure', 'album', 'disc'],
  checks: ['process', 'time', 'pcm', 'measure', 'album', 'disc', 'papers', 'tags'],
  render: [
    'schema',
    'time',
    'kernels',
    'pcm',
    'dsp',
    'measure',
    'process',
    'album',
    'disc',
    'papers',
    'tags',
  ],
};

/** Folders of the server and of the interface from the bottom up: each may import from those before it. */
const ROOMS = {
  server: [
    'db',
    'http',
    'access',
    'jobs',
    'media',
    'masters',
    'sounds',
    'albums',
    'presets',
    'sheets',
    'deliveries',
    'handovers',
    'images',
    'keeping',
    'compute',
    'worker',
  ],
  web: [
    ...[
      'ui',
      'api',
      'access',
      'album',
      'player',
      'checks',
      'masters',
      'cutting',
      'images',
      'keeping',
      'shelf',
    ],
    ...['sequence', 'trim', 'sound', 'sleeve', 'render', 'proof', 'listener', 'handover', 'frame'],
  ],
};

/** Everybody may tell of a failure. */
const mayImport = (layer) => ['errors', ...MAY_IMPORT[layer]];

const layerRules = LAYERS.map((layer) => ({
  files: [`core/src/${layer}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: LAYERS.filter((other) => other !== layer && !mayImport(layer).includes(other)).map(
              (other) => `../${other}/*`,
            ),
            message: `core/${layer} may import from ${mayImport(layer).join(', ')} only.`,
          },
          {
            group: ['node:*', '@oiseau/*', '../../../*', '../testing.js', '../index.js'],
            message: 'The core stands alone: no Node API, no other part.',
          },
        ],
      },
    ],
    'no-restricted-globals': ['error', 'window', 'document', 'process', 'fetch', 'performance', 'setTimeout'],
    'no-restricted-properties': [
      'error',
      { object: 'Math', property: 'random', message: 'Randomness is seeded.' },
      { object: 'Date', property: 'now', message: 'The core has no clock.' },
    ],
  },
}));

/** Parts talk to the core and the host by their names; nothing points into web, server, cli or demo. */
const partPattern = (part, forbidden) => ({
  group: [...forbidden, '@oiseau/*/*', '!@oiseau/api/openapi', '**/core/src/*', '**/host/src/*'],
  message: `${part} may not import this.`,
});

/** One rule for each room of a part: what the part may not import, and no room above. */
const roomRules = (part, forbidden) =>
  ROOMS[part].slice(0, -1).map((room, i) => ({
    files: [`${part}/src/${room}/**/*.{ts,tsx}`],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            partPattern(part, forbidden),
            {
              group: ROOMS[part].slice(i + 1).flatMap((above) => [`../${above}/*`, `../../${above}/*`]),
              message: `${part}/${room} may import from ${ROOMS[part].slice(0, i).join(', ') || 'no other folder'} only.`,
            },
          ],
        },
      ],
    },
  }));

const partRule = (part, forbidden) => ({
  files: [`${part}/src/**/*.{ts,tsx}`],
  // Tests may use the core's makers of small albums.
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [partPattern(part, forbidden)],
      },
    ],
  },
});

const NOT_FOR_SERVER = ['@oiseau/web', '@oiseau/cli', '@oiseau/demo'];
const NOT_FOR_WEB = ['@oiseau/host', '@oiseau/server', '@oiseau/cli', '@oiseau/demo', 'node:*'];

export default tseslint.config(
  // core/kernels is AssemblyScript.
  {
    ignores: [
      'dist/**',
      'data/**',
      'node_modules/**',
      'test-results/**',
      'bench-results/**',
      'core/kernels/**',
    ],
  },
  ...tseslint.configs.strict,
  ...tseslint.configs.stylistic,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'max-lines': ['error', { max: 400, skipBlankLines: true }],
    },
  },
  ...layerRules,
  partRule('host', ['@oiseau/server', '@oiseau/web', '@oiseau/cli', '@oiseau/demo']),
  partRule('server', NOT_FOR_SERVER),
  ...roomRules('server', NOT_FOR_SERVER),
  partRule('api', ['@oiseau/host', '@oiseau/server', '@oiseau/web', '@oiseau/cli', '@oiseau/demo', 'node:*']),
  partRule('cli', ['@oiseau/server', '@oiseau/web', '@oiseau/demo']),
  partRule('demo', ['@oiseau/server', '@oiseau/web', '@oiseau/cli', '@oiseau/host']),
  // What is sent is read by nothing that has a part in the sending.
  partRule('standins', ['@oiseau/*']),
  partRule('web', NOT_FOR_WEB),
  ...roomRules('web', NOT_FOR_WEB),
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  { files: ['scripts/**', 'demo/src/main.ts', 'bench/**', 'e2e/**'], rules: { 'no-console': 'off' } },
  {
    files: ['**/*.test.ts'],
    rules: { 'max-lines': 'off', '@typescript-eslint/no-non-null-assertion': 'off' },
  },
);
