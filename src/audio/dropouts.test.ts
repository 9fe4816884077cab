import { Dropouts } from './dropouts';

test('a device that falls behind is counted once each time, one that keeps up is not', () => {
  const dropouts = new Dropouts();
  let heard = 0;
  for (let at = 0; at < 2000; at += 20) {
    // Twice it has nothing to put out for 30 ms; readings stray by a few milliseconds all along.
    heard += at === 400 || at === 1200 ? -0.01 : 0.02;
    const strays = (at / 20) % 2 === 0 ? 0.003 : 0;
    expect(dropouts.read(heard + strays, at)).toBe(at === 400 || at === 1200);
  }
  expect(dropouts.count).toBe(2);
});

test('what was not heard between two plays, and a sleep of the machine, are none', () => {
  const dropouts = new Dropouts();
  dropouts.read(1, 1000);
  dropouts.rest();
  expect(dropouts.read(1, 1200)).toBe(false);
  expect(dropouts.read(1, 90_000)).toBe(false);
  expect(dropouts.count).toBe(0);
});
