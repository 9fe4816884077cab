/** Runs in the page: a press in the step grid against a React state change that changes nothing. */
import { useEffect, useState } from 'react';
import { createRoot } from 'react-dom/client';

const ROUNDS = 120;

let changeNothing: () => void = () => {};

function Empty() {
  const [count, setCount] = useState(0);
  useEffect(() => {
    changeNothing = () => setCount((before) => before + 1);
  }, []);
  return <span hidden>{count % 2}</span>;
}

/** Milliseconds from `act` until the frame that shows it is done. */
function toNextFrame(act: () => void): Promise<number> {
  return new Promise((done) => {
    // Begin just after a frame, so that both are measured from the same moment.
    requestAnimationFrame(() =>
      setTimeout(() => {
        const start = performance.now();
        act();
        requestAnimationFrame(() => {
          const { port1, port2 } = new MessageChannel();
          port1.onmessage = () => done(performance.now() - start);
          port2.postMessage(null);
        });
      }),
    );
  });
}

const p95 = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length * 0.95)];

export async function compare(): Promise<{ press: number; empty: number }> {
  const host = document.createElement('div');
  document.body.append(host);
  createRoot(host).render(<Empty />);
  await toNextFrame(() => {});
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
