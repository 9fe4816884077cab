/**
 * Bundles the service worker into public/, with the list of every file of this version: run when the
 * pages are built.
 */
import { readFileSync, rmSync } from 'node:fs';
import { injectManifest } from '@serwist/build';
import { build } from 'esbuild';

const bundled = '.tmp/offline.js';
const version = readFileSync('.next/BUILD_ID', 'utf8').trim();

await build({
  entryPoints: ['src/offline/worker.ts'],
  outfile: bundled,
  bundle: true,
  format: 'iife',
  target: 'es2022',
  minify: true,
  define: { 'process.env.NODE_ENV': '"production"' },
  logLevel: 'warning',
});

const { count, size, warnings } = await injectManifest({
  swSrc: bundled,
  swDest: 'public/offline.js',
  globDirectory: '.',
  globPatterns: ['.next/static/**/*', 'public/{worklet,library,icons,guide}/**/*'],
  globIgnores: ['**/*.map'],
  modifyURLPrefix: { '.next/static/': '/_next/static/', 'public/': '/' },
  dontCacheBustURLsMatching: /^\/_next\/static\//,
  maximumFileSizeToCacheInBytes: 16 * 1024 * 1024,
  additionalPrecacheEntries: ['/', '/song/-/shape', '/icon.svg', '/manifest.webmanifest'].map(
    (url) => ({ url, revision: version }),
  ),
});
rmSync(bundled);
for (const warning of warnings) console.warn(warning);
console.log(`offline: ${count} files, ${(size / 1024 ** 2).toFixed(1)} MB`);
