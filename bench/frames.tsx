/** For pages of the bench: how long until the next frame, and a React state change to compare with. */
import { useEffect, useState } from 'react';
import { createRoot } from 'react-dom/client';

export let changeNothing: () => void = () => {};

function Empty() {
  const [count, setCount] = useState(0);
  useEffect(() => {
    changeNothing = () => setCount((before) => before + 1);
  }, []);
  return <span hidden>{count % 2}</span>;
}

/** Milliseconds from `act` until the frame that shows it is done. */
export function toNextFrame(act: () => void): Promise<number> {
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

export const p95 = (values: number[]) =>
  values.sort((a, b) => a - b)[Math.floor(values.length * 0.95)];

/** Puts a component on the page that `changeNothing` draws again. */
export async function mountEmpty(): Promise<void> {
  const host = document.createElement('div');
  document.body.append(host);
  createRoot(host).render(<Empty />);
  await toNextFrame(() => {});
}
