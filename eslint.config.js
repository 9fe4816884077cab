import next from 'eslint-config-next/core-web-vitals';
import nextTs from 'eslint-config-next/typescript';
import prettier from 'eslint-config-prettier';
import boundaries from 'eslint-plugin-boundaries';

/** One folder of src is one layer; `stage` elements are told apart so that they cannot see each other. */
const layers = [
  { type: 'core', pattern: 'src/core/**/*', mode: 'full' },
  { type: 'demo', pattern: 'src/demo/**/*', mode: 'full' },
  { type: 'audio', pattern: 'src/audio/**/*', mode: 'full' },
  { type: 'workers', pattern: 'src/workers/**/*', mode: 'full' },
  { type: 'storage', pattern: 'src/storage/**/*', mode: 'full' },
  { type: 'state', pattern: 'src/state/**/*', mode: 'full' },
  { type: 'look', pattern: 'src/look/**/*', mode: 'full' },
  { type: 'stage', pattern: 'src/stages/*/**/*', mode: 'full', capture: ['stage'] },
  { type: 'shell', pattern: 'src/shell/**/*', mode: 'full' },
  { type: 'app', pattern: 'src/app/**/*', mode: 'full' },
];

export default [
  { ignores: ['.next/**', 'public/worklet/**', 'next-env.d.ts', '.tmp/**', 'coverage/**'] },
  ...next,
  ...nextTs,
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': layers,
      'import/resolver': { typescript: { project: './tsconfig.json' } },
    },
    rules: {
      'boundaries/element-types': [
        'error',
        {
          default: 'disallow',
          message:
            '${file.type} may not import ${dependency.type}: see docs/decisions/0001-layers.md',
          rules: [
            { from: 'core', allow: ['core'] },
            { from: 'demo', allow: ['core', 'demo'] },
            { from: 'workers', allow: ['workers', 'core'] },
            { from: 'audio', allow: ['audio', 'core'] },
            { from: 'storage', allow: ['storage', 'core', 'demo', 'workers'] },
            { from: 'state', allow: ['state', 'storage', 'audio', 'workers', 'demo', 'core'] },
            { from: 'look', allow: ['look', 'core'] },
            {
              from: 'stage',
              allow: ['state', 'look', 'core', ['stage', { stage: '${from.stage}' }]],
            },
            { from: 'shell', allow: ['shell', 'look', 'state', 'core'] },
            { from: 'app', allow: ['app', 'shell', 'stage', 'look', 'state', 'core'] },
          ],
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
            'react',
            'react-*',
            'next',
            'next/*',
            '@mui/*',
            'dexie',
            'zustand',
            'comlink',
            '@/*',
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
