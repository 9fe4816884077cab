import next from 'eslint-config-next/core-web-vitals';
import nextTs from 'eslint-config-next/typescript';
import prettier from 'eslint-config-prettier';

const CORE = 'src/core/**/*.ts';
const PAGE = ['src/{app,look,shell,stages,state}/**/*.{ts,tsx}'];

// Who may import whom is held by src/imports.test.ts, over the whole graph at once.
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
  // The rules for components and hooks take most of the time: they are for where there are some.
  ...next.map((one) => (one.rules ? { ...one, files: PAGE } : one)),
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
    // The core is plain TypeScript: it runs in a page, a worklet, a worker and in Node alike.
    files: [CORE],
    rules: {
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
