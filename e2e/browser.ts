import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Debian's Chromium, with a profile of its own. */
export function launch(extra: string[] = []): Promise<Browser> {
  return puppeteer.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    headless: false,
    args: [...FLAGS, ...extra],
    userDataDir: mkdtempSync(join(tmpdir(), 'verse-loom-')),
    defaultViewport: { width: 1280, height: 800 },
  });
}

/** Where the application under test answers. */
export const HOME = process.env.VERSE_LOOM_URL ?? 'http://localhost:3000';

/** Opens a page and notes every error it reports. */
export async function openPage(browser: Browser, path = '/'): Promise<{ page: Page; errors: string[] }> {
  const page = await browser.newPage();
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(String(error)));
  page.on('console', (message) => {
    if (message.type() === 'error') errors.push(message.text());
  });
  await page.goto(HOME + path, { waitUntil: 'load' });
  return { page, errors };
}

export const DEMO = '/song/demo-saltmarsh';

/** Waits until a song is open and drawn. */
export async function ready(page: Page): Promise<void> {
  await page.waitForSelector('[data-saving]', { timeout: 30_000 });
}
