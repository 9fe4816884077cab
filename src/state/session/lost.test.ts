import { useWorkbench } from '../store';
import { sayOrphans, sayRestored } from './lost';

const said = () => useWorkbench.getState().notices.at(-1)!;

test('songs that are back are counted, with the one that was worked on last, and stay said', () => {
  const newest = { name: 'Kelp', changed: Date.UTC(2026, 11, 1, 12) };
  sayRestored({ songs: 1, others: 7, damaged: 0, newest });
  expect(said()).toMatchObject({ kind: 'error' });
  expect(said().message).toMatch(
    /1 song and 7 other things are back\. Worked on last: “Kelp”, December 1, 2026/,
  );
  sayRestored({ songs: 2, others: 1, damaged: 3 });
  expect(said().message).toMatch(
    /2 songs and 1 other thing are back\. 3 parts of the copy could not/,
  );
  sayRestored('failed');
  expect(said().message).toMatch(/The copy is still there.*tried again/);
  sayOrphans(1);
  expect(said().message).toMatch(/^1 change of a song .* was found/);
});
