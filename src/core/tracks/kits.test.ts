import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { checkSong, DEFAULT_KIT, FIRST_SLICE, KITS, type Kit, type Song } from '../model';
import { anyWholeSong } from '../testing/songs';
import { timeline } from '../weave';
import { chooseKit, designPiece, kitOfSounds, mixOf, nameOfKit, takeKit } from '.';

const [demo] = demoSongs();
const sound = (result: Song | string): Song => {
  if (typeof result === 'string') throw new Error(result);
  expect(checkSong(result)).toEqual([]);
  return result;
};

const shed: Kit = {
  ...sound(designPiece(chooseKit(demo, 'big'), 'snare', { tune: 300 })).kit,
  name: 'shed',
};

test('a kept kit is heard as it was kept, with its room; no hit changes', () => {
  fc.assert(
    fc.property(anyWholeSong, (song) => {
      const taken = sound(takeKit(song, shed));
      expect(timeline(taken)).toEqual(timeline(song));
      expect(nameOfKit(taken.kit)).toBe('shed');
      const snare = taken.kit.pieces.find(({ id }) => id === 'snare');
      if (snare && song.kit.pieces.some(({ id }) => id === 'snare'))
        expect(snare.design).toEqual({ tune: 300 });
      expect(takeKit(taken, shed)).toBe(taken);
    }),
  );
  const taken = sound(takeKit(demo, shed));
  expect(mixOf(taken).buses[0].ring).toBe(KITS.big.ring);
  expect(nameOfKit(chooseKit(taken, 'tight').kit)).toBe('tight and dry');
});

test('pieces of loops come along under sounds of their own', () => {
  const cut = (id: string, sound: number) => ({
    ...DEFAULT_KIT.pieces[0],
    id,
    articulations: [{ ...DEFAULT_KIT.pieces[0].articulations[0], sound }],
  });
  const withLoop = (id: string): Kit => ({
    ...DEFAULT_KIT,
    name: id,
    pieces: [...DEFAULT_KIT.pieces, cut(id, FIRST_SLICE)],
  });
  const song = { ...demo, kit: withLoop('mine') };
  const taken = sound(takeKit(song, withLoop('theirs')));
  const sounds = taken.kit.pieces.flatMap(({ id, articulations }) =>
    ['mine', 'theirs'].includes(id) ? articulations.map((way) => way.sound) : [],
  );
  expect(sounds).toEqual([FIRST_SLICE, FIRST_SLICE + 1]);
});

test('sounds of notes become layers of the pieces that have those notes', () => {
  const hash = 'ab'.repeat(32);
  const kit = kitOfSounds('from a file', [
    { note: 38, name: 'soft', velocities: [1, 63], hash },
    { note: 38, name: 'hard', velocities: [64, 127], hash },
    { note: 36, name: 'kick', velocities: [1, 127], hash },
  ]);
  expect(checkSong({ ...demo, kit })).toEqual([]);
  const layersOf = (id: string) =>
    kit.pieces.find((piece) => piece.id === id)?.design?.layers ?? [];
  expect(layersOf('kick')).toHaveLength(2);
  // Rim and side stick are not in the file: they sound as the centre.
  expect(layersOf('snare').map(({ name, articulation }) => [articulation, name])).toEqual([
    ['centre', 'soft'],
    ['centre', 'hard'],
    ['rim', 'soft'],
    ['rim', 'hard'],
    ['side-stick', 'soft'],
    ['side-stick', 'hard'],
  ]);
  expect(layersOf('ride')).toEqual([]);
});
