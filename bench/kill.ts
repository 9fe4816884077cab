import type { Page } from 'puppeteer-core';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import {
  atStage,
  DEMO,
  edits,
  HOME,
  keys,
  kill,
  launch,
  listOfSongs,
  newSong,
  openPage,
  saved,
  seesText,
  usedProfile,
} from '../e2e/browser';
import { seeded } from '../src/core/random';
import type { Figure } from './main';

const ROUNDS = 30;

/** How the work of a page ends. */
type End = 'closed' | 'left';

/** Strikes the snare step by step for a while. @returns how often */
async function work(page: Page, ms: number): Promise<number> {
  let struck = 0;
  const end = performance.now() + ms;
  while (performance.now() < end && struck < 60) {
    await page.keyboard.press('Enter');
    struck++;
    await page.keyboard.press('ArrowRight');
  }
  return struck;
}

/** One round: work, an end without a warning, and a look at what is there again. */
async function lostBy(end: End, ms: number, used: string): Promise<number> {
  const userDataDir = mkdtempSync(join(tmpdir(), 'verse-loom-kill-'));
  cpSync(used, userDataDir, { recursive: true });
  const browser = await launch(userDataDir);
  try {
    const { page } = await openPage(browser);
    await listOfSongs(page);
    const path = await newSong(page);
    await page.focus('[role=grid]');
    await keys(page, 'Shift+.', 'Shift+.', 'Shift+.');
    const struck = await work(page, ms);
    if (end === 'closed') {
      await page.close();
    } else {
      await page.goto(`${HOME}${DEMO}/weave`);
    }
    const again = await openPage(browser, `${path}/shape`);
    // Of a song that is not there at all, nothing was kept.
    const words = await seesText(again.page, /\d+ hits? in this row|cannot be opened/);
    const kept = Number(/\d+/.exec(words)?.[0] ?? 0);
    return struck - kept;
  } finally {
    await browser.close().catch(() => {});
    rmSync(userDataDir, { recursive: true, force: true });
  }
}

/** The keys that are pressed at a stage over and over, and the focus they need: each press is one change of the song. */
const WORK: Readonly<Record<string, { focus?: string; first?: string; keys: readonly string[] }>> =
  {
    shape: { focus: '[role=grid]', keys: ['Enter', 'ArrowRight'] },
    weave: { keys: ['Shift+ArrowDown', 'Shift+ArrowUp'] },
    balance: { keys: ['m'] },
    draft: { first: 'Shift+d', keys: ['Shift+r'] },
  };
/** How often a profile is killed; `KILLS` says otherwise. */
const KILLS = Number(process.env.KILLS ?? 100);

/** Reads from storage how many changes are in the demo song, and which songs there are. */
const held = (page: Page) =>
  page.evaluate(async (demo) => {
    const done = <T>(asked: IDBRequest<T>) =>
      new Promise<T>((resolve, reject) => {
        asked.onsuccess = () => resolve(asked.result);
        asked.onerror = () => reject(asked.error);
      });
    const db = await done(indexedDB.open('verse-loom'));
    const tables = db.transaction(['heads', 'bodies']);
    const head = (await done(tables.objectStore('heads').get(demo))) as { n?: number } | undefined;
    const songs = await done(tables.objectStore('bodies').getAllKeys());
    db.close();
    return { n: head?.n ?? -1, songs: songs.map(String) };
  }, DEMO.split('/').at(-1)!);

/**
 * Kills one and the same profile a hundred times, at work in Shape, Weave, Balance and Draft by turns.
 * @returns how old the oldest change was that was lost, and how many songs
 */
async function killed(): Promise<Figure[]> {
  const random = seeded(11);
  const profile = await usedProfile();
  const stages = Object.keys(WORK);
  const ages: number[] = [];
  const known = new Set<string>();
  let [lost, songsLost, thrown] = [0, 0, 0];
  let before: { n: number; changes: number[]; ended: number } | undefined;
  for (let round = 0; round <= KILLS; round++) {
    const browser = await launch(profile);
    const stage = stages[round % stages.length];
    const { page } = await openPage(browser, `${DEMO}/${stage === 'draft' ? 'weave' : stage}`);
    await atStage(page, stage === 'draft' ? 'weave' : stage);
    await saved(page);
    const text = await page.evaluate(() => document.body.innerText);
    if (text.includes('threw its storage away')) thrown++;
    const { n, songs } = await held(page);
    songsLost += [...known].filter((id) => !songs.includes(id)).length;
    for (const id of songs) known.add(id);
    if (before) {
      const { changes, ended } = before;
      const kept = n - before.n;
      lost += Math.max(0, changes.length - kept);
      ages.push(kept < changes.length ? ended - changes[Math.max(0, kept)] : 0);
    }
    if (round === KILLS) {
      await browser.close();
      break;
    }
    const { focus, first: begins, keys: pressed } = WORK[stage];
    if (focus) await page.focus(focus);
    if (begins) await keys(page, begins);
    const first = await edits(page);
    const changes: number[] = [];
    const end = performance.now() + 200 + random() * 900;
    for (let i = 0; performance.now() < end; i++) {
      await keys(page, pressed[i % pressed.length]);
      for (let many = (await edits(page)) - first; changes.length < many;) {
        changes.push(performance.now());
      }
    }
    before = { n, changes, ended: performance.now() };
    await kill(browser);
    await pause(50);
  }
  rmSync(profile, { recursive: true, force: true });
  const most = Math.max(...ages);
  return [
    {
      name: 'lost.killed',
      ratio: most / 250,
      bound: 1,
      detail: `one profile killed ${KILLS} times at work: ${lost} changes lost, the oldest ${most.toFixed(0)} ms old; 250 ms are allowed`,
    },
    {
      name: 'lost.songs',
      ratio: songsLost,
      bound: 0,
      detail: `${known.size} songs, ${songsLost} lost; the browser threw its storage away ${thrown} times`,
    },
  ];
}

/** How old the oldest change was that was lost, over many ends at odd moments. */
export async function killFigures(): Promise<Figure[]> {
  const random = seeded(11);
  const used = await usedProfile();
  const figures = await killed();
  for (const end of ['closed', 'left'] as const) {
    let lost = 0;
    for (let round = 0; round < ROUNDS; round++) {
      lost += await lostBy(end, 200 + random() * 900, used);
      await pause(50);
    }
    figures.push({
      name: `lost.${end}`,
      ratio: lost,
      bound: 0,
      detail: `${ROUNDS} pages ${end} at work: ${lost} strokes lost`,
    });
  }
  return figures;
}
