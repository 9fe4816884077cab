/** Bundles the audio worklet into public/worklet/: Next.js cannot load one by itself. */
import { build } from 'esbuild';

await build({
  entryPoints: ['src/audio/engine.worklet.ts'],
  outfile: 'public/worklet/engine.js',
  bundle: true,
  format: 'iife',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
