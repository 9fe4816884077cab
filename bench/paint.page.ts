/** Runs in the page: a press in the step grid against a React state change that changes nothing. */
import { changeNothing, mountEmpty, p95, toNextFrame } from './frames';

const ROUNDS = 120;

export async function compare(): Promise<{ press: number; empty: number }> {
  await mountEmpty();
  const grid = document.querySelector<HTMLElement>('[role=grid]')!;
  grid.setPointerCapture = () => {};
  const free = [...grid.querySelectorAll<HTMLElement>('[role=gridcell]')].filter((cell) =>
    cell.getAttribute('aria-label')!.endsWith('empty'),
  );
  const press: number[] = [];
  const empty: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    empty.push(await toNextFrame(() => changeNothing()));
    const box = free[(round * 7) % free.length].getBoundingClientRect();
    const at = { clientX: box.x + box.width * 0.4, clientY: box.y + box.height / 2 };
    const send = (type: string) =>
      grid.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, button: 0, ...at }));
    press.push(await toNextFrame(() => send('pointerdown')));
    send('pointerup');
    await toNextFrame(() => {});
  }
  return { press: p95(press), empty: p95(empty) };
}
