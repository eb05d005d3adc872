import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders of the core's packages from the bottom up: each may import from those before it in its package. Between packages the references hold it. */
const CORE = {
  audio: ['errors', 'schema', 'time', 'kernels', 'pcm', 'dsp', 'measure', 'stages'],
  album: ['model', 'layout', 'measured', 'edits', 'file', 'compare'],
  formats: ['disc', 'tags', 'papers', 'cutting'],
};

/** Folders of the server and of the interface from the bottom up: each may import from those before it. */
const ROOMS = {
  server: [
    'db',
    'http',
    'access',
    'jobs',
    'changes',
    'media',
    'masters',
    'sounds',
    'albums',
    'presets',
    'sheets',
    'deliveries',
    'handovers',
    'images',
    'maintenance',
    'compute',
    'worker',
  ],
  web: [
    ...[
      'ui',
      'api',
      'access',
      'player',
      'workspace',
      'album',
      'transport',
      'checks',
      'masters',
      'cutting',
      'images',
      'storage',
      'shelf',
    ],
    ...[
      'sequence',
      'trim',
      'sound',
      'sleeve',
      'render',
      'proof',
      'listener',
      'handover',
      'editions',
      'frame',
    ],
  ],
};

/** What no module of the core may use: it has no Node API, no other part, no clock and no randomness but a seeded one. */
const ALONE = {
  group: [
    'node:*',
    '@oiseau/{api,host,server,web,cli,demo,standins}',
    '@oiseau/*/src/**',
    '**/testing.js',
    '**/index.js',
  ],
  message: 'The core stands alone: no Node API, no other part.',
};
const coreRule = (files, patterns) => ({
  files,
  ignores: ['**/*.test.ts', 'core/*/src/testing.ts'],
  rules: {
    'no-restricted-imports': ['error', { patterns: [ALONE, ...patterns] }],
    'no-restricted-globals': ['error', 'window', 'document', 'process', 'fetch', 'performance', 'setTimeout'],
    'no-restricted-properties': [
      'error',
      { object: 'Math', property: 'random', message: 'Randomness is seeded.' },
      { object: 'Date', property: 'now', message: 'The core has no clock.' },
    ],
  },
});
const coreRules = [
  coreRule(['core/*/src/**/*.ts'], []),
  ...Object.entries(CORE).flatMap(([part, folders]) =>
    folders.slice(0, -1).map((folder, i) =>
      coreRule(
        [`core/${part}/src/${folder}/**/*.ts`],
        [
          {
            group: folders.slice(i + 1).map((above) => `../${above}/*`),
            message: `${part}/${folder} may import from ${['no folder above', ...folders.slice(0, i)].join(', ')}.`,
          },
        ],
      ),
    ),
  ),
];

/** Parts talk to the core and the host by their names; nothing points into web, server, cli or demo. */
const partPattern = (part, forbidden) => ({
  group: [...forbidden, '@oiseau/*/src/**', '**/core/*/src/**', '**/host/src/**'],
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

/** A word that is not a unit, a key or a name, which are the same in every language. */
const LITERAL =
  '(?<!\\p{L})(?!(?:dB|dBFS|dBTP|LUFS|LU|Hz|kHz|ms|min|MB|GB|px|bit|bpm|ISRC|UPC|EAN|https|en|Alt|Ctrl|Oiseau|SHA)(?!\\p{L}))\\p{L}{2,}';
/** Attributes whose value people read or hear. */
const TEXT_ATTRIBUTES =
  '/^(?:title|label|heading|placeholder|alt|aria-(?:label|description|roledescription|valuetext))$/';

const NOT_FOR_SERVER = ['@oiseau/web', '@oiseau/cli', '@oiseau/demo'];
const NOT_FOR_WEB = ['@oiseau/host', '@oiseau/server', '@oiseau/cli', '@oiseau/demo', 'node:*'];

export default tseslint.config(
  // core/audio/kernels is AssemblyScript.
  {
    ignores: [
      'dist/**',
      'data/**',
      'data-dev/**',
      'node_modules/**',
      'test-results/**',
      'bench-results/**',
      'core/audio/kernels/**',
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
  ...coreRules,
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
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "JSXOpeningElement[name.name=/^(div|span|p|Spinner)$/]:has(> JSXAttribute[name.name='aria-label']):not(:has(> JSXAttribute[name.name='role']))",
          message: 'Only an element with a role can have an accessible name (ARIA 1.2).',
        },
        {
          selector: `JSXText[value=/${LITERAL}/u], JSXAttribute[name.name=${TEXT_ATTRIBUTES}] > Literal[value=/${LITERAL}/u]`,
          message: 'People read this: word it with t() or rich() of ui/messages.ts (docs/translating.md).',
        },
      ],
    },
  },
  { files: ['scripts/**', 'demo/src/main.ts', 'e2e/**'], rules: { 'no-console': 'off' } },
  {
    files: ['**/*.test.ts'],
    rules: { 'max-lines': 'off', '@typescript-eslint/no-non-null-assertion': 'off' },
  },
);
