import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { NextConfig } from 'next';
import { HEADERS } from './src/server/asked';

/** A sum over all files of a folder: another one where anything in it is another. */
function sumOf(folder: string): string {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.includes('.test.'))
    .map((entry) => path.join(entry.parentPath, entry.name))
    .sort();
  const sum = createHash('sha256');
  for (const file of files) sum.update(file).update(readFileSync(file));
  return sum.digest('hex').slice(0, 16);
}

const config: NextConfig = {
  reactStrictMode: true,
  // Computed sounds are kept as long as what computes them is the same.
  env: { SOUNDS: sumOf('src/core') },
  // Types are a step of their own in the checks: the build does not look at them a second time.
  typescript: { ignoreBuildErrors: true },
  // Components whose inputs are the same are not drawn again: an edit draws what it changed.
  reactCompiler: true,
  experimental: {
    // The few rules for the fonts stand in the page: nothing is waited for before it is painted.
    inlineCss: true,
    // The compiler of the bundler itself: a build takes half as long as with the one for Babel.
    turbopackRustReactCompiler: true,
    // The server's own code is neither sent nor looked at: it is left as it is.
    serverMinification: false,
    serverSourceMaps: false,
  },
  // The song page is one client application; nothing of it is rendered per request.
  poweredByHeader: false,
  devIndicators: false,
  headers: async () => [{ source: '/:path*', headers: [...HEADERS] }],
};

export default config;
