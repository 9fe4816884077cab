/** Runs in the page: a slider that works on 6,000 hits, and scrolling through 64 bars. */
import { changeNothing, mountEmpty, p95, toNextFrame } from './frames';

const ROUNDS = 100;
/** Pixels a frame: some four bars a second as they are drawn. */
const STRIDE = 36;

export async function compare() {
  await mountEmpty();
  const slider = document.querySelector<HTMLInputElement>('[role=group] input[type=range]')!;
  const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
  const slideTo = (value: number) => {
    setValue.call(slider, String(value));
    slider.dispatchEvent(new Event('input', { bubbles: true }));
    slider.dispatchEvent(new Event('change', { bubbles: true }));
  };
  const step: number[] = [];
  const empty: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    empty.push(await toNextFrame(() => changeNothing()));
    step.push(await toNextFrame(() => slideTo(5 + (round % 30))));
    await toNextFrame(() => {});
  }
  const frames = await scrollThrough();
  return {
    step: p95(step),
    empty: p95(empty),
    worst: Math.max(...frames),
    late: frames.filter((ms) => ms > 17).length,
    frames: frames.length,
  };
}

/** Milliseconds of each frame while the sheet scrolls from its first bar to its last and back. */
function scrollThrough(): Promise<number[]> {
  const view = document.querySelector('[role=grid]')!.parentElement!.parentElement!;
  view.scrollLeft = 0;
  const end = view.scrollWidth - view.clientWidth;
  const frames: number[] = [];
  return new Promise((done) => {
    let before: number | undefined;
    let travelled = 0;
    const next = (now: number) => {
      if (before !== undefined) frames.push(now - before);
      before = now;
      travelled += STRIDE;
      view.scrollLeft = travelled < end ? travelled : 2 * end - travelled;
      if (travelled < 2 * end) requestAnimationFrame(next);
      else done(frames);
    };
    // The last preview is still being compiled for the engine: that is no scrolling.
    setTimeout(() => requestAnimationFrame(next), 500);
  });
}
