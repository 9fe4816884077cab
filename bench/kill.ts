import type { Browser, Page } from 'puppeteer-core';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import {
  DEMO,
  HOME,
  keys,
  kill,
  launch,
  listOfSongs,
  newSong,
  openPage,
  seesText,
  usedProfile,
} from '../e2e/browser';
import { seeded } from '../src/core/random';
import type { Figure } from './main';

const ROUNDS = 30;

/** How the work of a page ends. */
type End = 'killed' | 'closed' | 'left';

/** Strikes the snare step by step for a while, and says when each stroke was struck. */
async function work(page: Page, ms: number): Promise<number[]> {
  const struck: number[] = [];
  const end = performance.now() + ms;
  while (performance.now() < end && struck.length < 60) {
    await page.keyboard.press('Enter');
    struck.push(performance.now());
    await page.keyboard.press('ArrowRight');
  }
  return struck;
}

/** One round: work, an end without a warning, and a look at what is there again. */
async function lostBy(end: End, ms: number, used: string): Promise<{ lost: number; age: number }> {
  const userDataDir = mkdtempSync(join(tmpdir(), 'verse-loom-kill-'));
  cpSync(used, userDataDir, { recursive: true });
  const browser = await launch(userDataDir);
  let later: Browser | undefined;
  try {
    const { page } = await openPage(browser);
    await listOfSongs(page);
    const path = await newSong(page);
    await page.focus('[role=grid]');
    await keys(page, 'Shift+.', 'Shift+.', 'Shift+.');
    const struck = await work(page, ms);
    const ended = performance.now();
    if (end === 'killed') {
      await kill(browser);
      later = await launch(userDataDir);
    } else if (end === 'closed') {
      await page.close();
    } else {
      await page.goto(`${HOME}${DEMO}/weave`);
    }
    const again = await openPage(later ?? browser, `${path}/shape`);
    // Of a song that is not there at all, nothing was kept.
    const words = await seesText(again.page, /\d+ hits? in this row|cannot be opened/);
    const kept = Number(/\d+/.exec(words)?.[0] ?? 0);
    const lost = struck.length - kept;
    return { lost, age: lost > 0 ? ended - struck[kept] : 0 };
  } finally {
    await (later ?? browser).close().catch(() => {});
    rmSync(userDataDir, { recursive: true, force: true });
  }
}

/** How old the oldest stroke was that was lost, over many ends at odd moments. */
export async function killFigures(): Promise<Figure[]> {
  const random = seeded(11);
  const used = await usedProfile();
  const figures: Figure[] = [];
  for (const end of ['killed', 'closed', 'left'] as const) {
    const ages: number[] = [];
    let lost = 0;
    for (let round = 0; round < ROUNDS; round++) {
      const result = await lostBy(end, 200 + random() * 900, used);
      ages.push(result.age);
      lost += result.lost;
      await pause(50);
    }
    const most = Math.max(...ages);
    figures.push({
      name: `lost.${end}`,
      ratio: end === 'killed' ? most / 250 : lost,
      bound: end === 'killed' ? 1 : 0,
      detail: `${ROUNDS} pages ${end} at work: ${lost} strokes lost, the oldest ${most.toFixed(0)} ms old${end === 'killed' ? '; 250 ms are allowed' : ''}`,
    });
  }
  return figures;
}
