import next from 'eslint-config-next/core-web-vitals';
import nextTs from 'eslint-config-next/typescript';
import prettier from 'eslint-config-prettier';
import boundaries from 'eslint-plugin-boundaries';

/**
 * The folders of the core in order, foundations first: each may import those before it, through their
 * faces, and none behind it.
 */
const coreFolders = [
  ...['time', 'random', 'memo', 'model', 'pattern', 'weave', 'tab', 'midi'],
  ...[
    'notation',
    'musicxml',
    'library',
    'guide',
    'playing',
    'vary',
    'draft',
    'tracks',
    'sound',
    'fonts',
    'loops',
    'engine',
    'wishes',
    'deliver',
    'bounce',
    'commands',
    'testing',
  ],
];

/** One folder of src is one layer. What a layer may import besides itself stands behind it. */
const layers = {
  face: ['core'],
  demo: ['core'],
  workers: ['core'],
  audio: ['core'],
  storage: ['core', 'demo', 'workers'],
  state: ['storage', 'audio', 'workers', 'demo', 'core'],
  look: ['core'],
  stage: ['state', 'look', 'core'],
  shell: ['look', 'state', 'core'],
  server: ['core'],
  offline: [],
  app: ['server', 'shell', 'stage', 'look', 'state', 'core'],
};

const patterns = {
  stage: { pattern: 'src/stages/*', capture: ['stage'] },
  face: { pattern: 'src/core' },
};
const elements = [
  { type: 'core', pattern: 'src/core/*', capture: ['folder'] },
  ...Object.keys(layers).map((type) => ({
    type,
    ...(patterns[type] ?? { pattern: `src/${type}` }),
  })),
];

const to = (type, captured) => ({ to: { element: captured ? { type, captured } : { type } } });

const policies = [
  ...Object.entries(layers).map(([type, others]) => ({
    from: { element: { type } },
    // Stages do not see each other: what they share is in look/ or in the core.
    allow: [
      type === 'stage' ? to('stage', { stage: '{{from.element.captured.stage}}' }) : to(type),
      ...others.map((other) => to(other)),
      ...(others.includes('core') ? [to('face')] : []),
    ],
  })),
  ...coreFolders.map((folder, i) => ({
    from: { element: { type: 'core', captured: { folder } } },
    allow: coreFolders.slice(0, i + 1).map((other) => to('core', { folder: other })),
  })),
];

/** The core is imported by the faces of its folders: their index.ts. */
const FACES = {
  group: ['@/core/*/*', '!@/core/testing/*'],
  message: 'import the face of the folder: @/core/<folder>',
};

const config = [
  {
    ignores: [
      '**/.next/**',
      'public/worklet/**',
      'public/offline.js',
      '**/next-env.d.ts',
      '.tmp/**',
      'coverage/**',
    ],
  },
  ...next,
  ...nextTs,
  {
    rules: {
      // A value without one of its parts is written { part: _, ...rest }.
      '@typescript-eslint/no-unused-vars': [
        'warn',
        { varsIgnorePattern: '^_', argsIgnorePattern: '^_' },
      ],
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    // A test may borrow another layer's data.
    ignores: ['**/*.test.{ts,tsx}'],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': elements,
      'import/resolver': { typescript: { project: './tsconfig.json' } },
    },
    rules: {
      'import/no-cycle': 'error',
      'no-restricted-imports': ['error', { patterns: [FACES] }],
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          message: 'this layer may not import that one: see docs/decisions/0001-layers.md',
          policies,
        },
      ],
    },
  },
  {
    // The core is plain TypeScript: it runs in a page, a worklet, a worker and in Node alike.
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: [
                'react',
                'react-*',
                'next',
                'next/*',
                '@mui/*',
                'dexie',
                'zustand',
                'comlink',
              ],
              message: 'the core has no interface and no storage',
            },
            { group: ['@/*'], message: 'the core imports nothing of other layers' },
            {
              regex: '^\\.\\./(?!testing/|\\.\\./)[^/]+/',
              message: 'import the face of the folder: ../<folder>',
            },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'indexedDB',
        'performance',
        'AudioContext',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'randomness in the core takes a seed' },
        { object: 'Date', property: 'now', message: 'the core does not read the clock' },
      ],
    },
  },
  prettier,
];

export default config;
