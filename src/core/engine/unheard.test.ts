import { demoSongs } from '../../demo';
import { setStrip, sendTrack } from '../tracks';
import { layoutOf, type Song } from '../model';
import { compileDesk } from './deskTable';
import { renderMix, soundsFor } from './mix';
import { compileScore, notesIn, type Score } from './score';
import { withoutUnheard } from './unheard';

const [demo] = demoSongs();
const [first] = demo.places;
const song: Song = { ...demo, places: [first], guides: [] };
const withSection = (mix: Song['sections'][number]['mix']): Song => ({
  ...song,
  sections: song.sections.map((one) => (one.id === first.section ? { ...one, mix } : one)),
});
const muted = (of: Song, ...tracks: string[]) =>
  tracks.reduce((mixed, track) => setStrip(mixed, track, { mute: true }) as Song, of);
const played = (of: Song): Score => withoutUnheard(compileScore(of), compileDesk(of));

test('what is muted from beginning to end is not played, and all else is', () => {
  const whole = compileScore(song);
  expect(played(song)).toEqual(whole);
  const { lanes } = compileDesk(song);
  const strip = (score: Score, i: number) => lanes[score.lanes[i]].strip;
  const without = played(muted(song, 'hihat'));
  const hats = compileDesk(muted(song, 'hihat')).strips.findIndex(({ mute }) => mute);
  const kept = [...whole.ticks.keys()].filter((i) => strip(whole, i) !== hats);
  expect(kept.length).toBeLessThan(whole.ticks.length);
  expect([...without.ticks]).toEqual(kept.map((i) => whole.ticks[i]));
  expect([...without.alternates]).toEqual(kept.map((i) => whole.alternates[i]));
});

test('a track that a section lets be heard is played', () => {
  const heard = muted(withSection({ strips: [{ track: 'hihat', mute: false }] }), 'hihat');
  expect(played(heard).ticks).toEqual(compileScore(heard).ticks);
});

test('what cuts off a sound that is heard is still played', () => {
  const score = compileScore(song);
  const cutting: Score = { ...score, chokes: score.chokes.map(() => 3) };
  expect(withoutUnheard(cutting, compileDesk(muted(song, 'hihat')))).toBe(cutting);
});

test('a muted track is silent, also what its hits by themselves send to the room', () => {
  const far = sendTrack(song, 'snare', 'echo', 0.5) as Song;
  const touched: Song = {
    ...far,
    patterns: far.patterns.map((pattern) => ({
      ...pattern,
      strands: pattern.strands.map((strand) => ({
        ...strand,
        hits: strand.hits.map((hit) => ({ ...hit, room: 0.8, echo: 0.6 })),
      })),
    })),
  };
  const rate = 8_000;
  const sounds = soundsFor(notesIn(compileScore(touched)), rate, touched.kit);
  const all = compileDesk(touched).strips.length;
  const silent = muted(touched, ...layoutOf(song).tracks.map(({ id }) => id));
  expect(compileDesk(silent).strips.filter(({ mute }) => mute)).toHaveLength(all - 1);
  const { left } = renderMix(silent, { sampleRate: rate, sounds, to: 2 });
  expect(left.every((x) => x === 0)).toBe(true);
});
