/** Runs in the page: the whole of a long song in Weave. */
import type { Song } from '../src/core/model';
import { cloth, laidPlaces } from '../src/core/weave';
import { drawCloth } from '../src/look/drawCloth';
import { TOKENS } from '../src/look/tokens';
import { fresh, median } from './weave.views';
import { changeNothing, mountEmpty, p95, toNextFrame } from './frames';

const ROUNDS = 40;
/** Milliseconds to compute and draw the cloth of a song that was just opened. */
export function draw(song: Song): { computed: number; drawn: number } {
  const canvas = document.createElement('canvas');
  canvas.width = 900;
  canvas.height = 400;
  const ink = canvas.getContext('2d')!;
  const computed: number[] = [];
  const drawn: number[] = [];
  // Copies are made before anything is measured: what they leave behind is collected in between.
  for (const one of Array.from({ length: 15 }, (_, n) => fresh(song, n))) {
    const start = performance.now();
    const woven = cloth(one);
    const then = performance.now();
    drawCloth(ink, {
      cloth: woven,
      rowHeights: woven.rows.map(() => 60),
      gap: 3,
      stems: true,
      joins: laidPlaces(one).map((laid) => laid.start),
      width: 900,
      tokens: TOKENS.light,
    });
    // What was asked of the canvas is done by the time a pixel is read.
    ink.getImageData(0, 0, 1, 1);
    computed.push(then - start);
    drawn.push(performance.now() - then);
  }
  return { computed: median(computed), drawn: median(drawn) };
}

/** Mends one moment everywhere, undoes it, and so on: to the next frame, beside an empty change. */
export async function edit(): Promise<{ edit: number; empty: number }> {
  await mountEmpty();
  const edits: number[] = [];
  const empty: number[] = [];
  const button = () =>
    [...document.querySelectorAll<HTMLButtonElement>('section[aria-label=playable] button')].find(
      (one) => one.textContent === 'mend it',
    );
  const undo = () =>
    [...document.querySelectorAll<HTMLButtonElement>('header button, button')].find(
      (one) => one.textContent === 'undo',
    )!;
  for (let round = 0; round < ROUNDS; round++) {
    empty.push(await toNextFrame(() => changeNothing()));
    for (let waited = 0; !button() && waited < 200; waited++) await toNextFrame(() => {});
    edits.push(await toNextFrame(() => button()!.click()));
    await toNextFrame(() => {});
    undo().click();
    for (let waited = 0; waited < 30; waited++) await toNextFrame(() => {});
  }
  return { edit: p95(edits), empty: p95(empty) };
}

/** Switches the tracks of a long song to and fro: to the next frame, beside an empty change. */
export async function layout(): Promise<{ layout: number; empty: number }> {
  await mountEmpty();
  const layouts: number[] = [];
  const empty: number[] = [];
  const named = (name: string) =>
    [...document.querySelectorAll<HTMLButtonElement>('button')].find(
      (one) => one.textContent === name,
    )!;
  for (let round = 0; round < ROUNDS; round++) {
    empty.push(await toNextFrame(() => changeNothing()));
    const name = round % 2 === 0 ? 'by note' : 'by family';
    layouts.push(await toNextFrame(() => named(name).click()));
    for (let waited = 0; waited < 10; waited++) await toNextFrame(() => {});
  }
  return { layout: p95(layouts), empty: p95(empty) };
}

/** Milliseconds of each frame while the cloth scrolls from its first bar to its last. */
export function scroll(): Promise<number[]> {
  const box = document.querySelector<HTMLElement>('[data-cloth]')!;
  const end = box.scrollWidth - box.clientWidth;
  const stride = end / 600;
  const frames: number[] = [];
  return new Promise((done) => {
    let before: number | undefined;
    let at = 0;
    const next = (now: number) => {
      if (before !== undefined) frames.push(now - before);
      before = now;
      box.scrollLeft = at += stride;
      if (at < end) requestAnimationFrame(next);
      else done(frames);
    };
    requestAnimationFrame(next);
  });
}

/** Milliseconds of each frame while keys zoom in to a bar and out again. */
export async function zoom(): Promise<number[]> {
  const frames: number[] = [];
  const press = (code: string) =>
    document.body.dispatchEvent(
      new KeyboardEvent('keydown', { code, key: code === 'Equal' ? '=' : '-', bubbles: true }),
    );
  let before = performance.now();
  for (let step = 0; step < 40; step++) {
    press(step < 20 ? 'Equal' : 'Minus');
    await new Promise((done) => requestAnimationFrame(done));
    const now = performance.now();
    frames.push(now - before);
    before = now;
  }
  return frames;
}
