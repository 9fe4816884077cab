import { build } from 'esbuild';
import type { Page } from 'puppeteer-core';
import type { Song } from '../src/core/model';

/** Bundles code for the page; the bundle's `run` is called there. */
export async function bundled(entry: string): Promise<string> {
  const result = await build({
    entryPoints: [entry],
    bundle: true,
    format: 'iife',
    globalName: 'bench',
    write: false,
    minify: true,
    alias: { '@': './src' },
    define: { 'process.env.NODE_ENV': '"production"' },
  });
  return result.outputFiles[0].text;
}

/** What is measured runs in the page, whose policy lets nothing in that is not its own. */
export const withOwnScripts = (page: Page) => page.setBypassCSP(true);

/** Puts a song straight into storage. */
export function store(page: Page, song: Song): Promise<void> {
  return page.evaluate(
    (text) =>
      new Promise<void>((done, fail) => {
        const opening = indexedDB.open('verse-loom');
        opening.onerror = () => fail(opening.error);
        opening.onsuccess = () => {
          const body = JSON.parse(text);
          const store = opening.result.transaction('bodies', 'readwrite').objectStore('bodies');
          store.put({ id: body.id, song: body }).onsuccess = () => done();
        };
      }),
    JSON.stringify(song),
  );
}
