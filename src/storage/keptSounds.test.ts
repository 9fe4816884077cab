import { made } from '@/core/engine';
import { designOf, DEFAULT_KIT } from '@/core/model';
import { buffersOf } from '@/core/sound';
import { packSound, unpackSound } from './keptSounds';

const snare = made(designOf(DEFAULT_KIT, 38), 8000);

test('a sound that was kept is the sound that was computed, and what its strokes share is kept once', async () => {
  const bytes = await new Response(packSound(snare)).arrayBuffer();
  const back = unpackSound(bytes)!;
  expect(back).toEqual(snare);
  const size = buffersOf(snare).reduce((sum, { byteLength }) => sum + byteLength, 0);
  expect(bytes.byteLength).toBeLessThan(size + (snare.response?.byteLength ?? 0) + 10_000);
});

test('of a sound that is cut off nothing is heard', async () => {
  const bytes = await new Response(packSound(snare)).arrayBuffer();
  for (const share of [0, 0.001, 0.5, 0.99]) {
    expect(unpackSound(bytes.slice(0, Math.floor(bytes.byteLength * share)))).toBeUndefined();
  }
});
