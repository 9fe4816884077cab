import 'fake-indexeddb/auto';
import { draftLaid, draftSong, reportOf, whyAt } from '@/core/draft';
import { emptyPattern, songWith, spanOver, type Song } from '@/core/model';
import { laidPlaces, layForm, readForm } from '@/core/weave';
import { shippedFamilies } from '@/core/testing/shipped';
import { draftAside } from '@/workers';
import { useGather } from '../gather/gather';
import { edit, redo, undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { selectPlace } from './choosing';
import {
  ask,
  draftAnew,
  draftedSection,
  drawEnergy,
  endEnergy,
  proposeEnergy,
  roll,
  setOf,
  shiftEnergy,
} from './drafting';
import { compareBefore, isBefore, isOpen, keepDraft, takeBackDraft } from './draftKept';
import { useDrafting } from './draftState';
import { showWhy } from './draftWhy';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const library = { families: shippedFamilies() };
const asked: Song[] = [];

/** What the worker does, and when it answers. */
let answer = async (song: Song, _: unknown, sections?: ReadonlySet<string>) => {
  asked.push(song);
  const { song: drafted, says } = draftSong(song, library, sections);
  return { laid: draftLaid(song, drafted), says };
};
const usual = answer;

const turn = () => new Promise((done) => setTimeout(done));

/** Until nothing is being drafted any more. */
async function settled() {
  do await turn();
  while (useDrafting.getState().working);
}

const steps = () => useWorkbench.getState().history!.past.map(({ label }) => label);

beforeEach(() => {
  answer = usual;
  asked.length = 0;
  (draftAside as jest.Mock).mockImplementation((...told: Parameters<typeof usual>) =>
    answer(...told),
  );
  // The library is open, so that nothing is fetched.
  useGather.setState({ status: 'ready' });
  const { parts } = readForm('intro 2, verse 8, chorus 8, verse 8');
  const own = emptyPattern({ id: 'own', name: 'Own' });
  const song = layForm(songWith({ id: 'song', name: 'Song' }, [own]), parts).song;
  openBench(song, { weaveView: 'draft', stage: 'weave', playing: true });
  useDrafting.setState({ since: undefined, after: undefined, of: 'song', says: [] });
});

test('a line is proposed and drafted in one step of undo, rolled in another, and all taken back', async () => {
  const before = openSongNow();
  proposeEnergy();
  await settled();
  const drafted = openSongNow();
  expect(reportOf(drafted).counts.drafted).toBe(26);
  roll();
  await settled();
  expect(steps()).toEqual(['propose energy', 'roll the draft']);
  expect(openSongNow().patterns).not.toEqual(drafted.patterns);
  undo();
  expect(openSongNow()).toBe(drafted);
  takeBackDraft();
  expect(openSongNow()).toBe(before);
  expect(isOpen()).toBe(false);
});

test('the song before is heard and left again; what is kept is not taken back any more', async () => {
  proposeEnergy();
  await settled();
  const drafted = openSongNow();
  compareBefore();
  expect(reportOf(openSongNow()).counts.empty).toBe(26);
  compareBefore();
  expect(openSongNow()).toBe(drafted);
  compareBefore();
  keepDraft();
  expect(openSongNow()).toBe(drafted);
  takeBackDraft();
  expect(openSongNow()).toBe(drafted);
});

test('a draft that undo took back is neither kept nor taken back; redo brings that back too', async () => {
  const before = openSongNow();
  proposeEnergy();
  await settled();
  undo();
  expect(isOpen()).toBe(false);
  takeBackDraft();
  compareBefore();
  expect([openSongNow(), isBefore()]).toEqual([before, false]);
  redo();
  expect(isOpen()).toBe(true);
  // Changed while the song before is heard, the draft is gone: there is no hearing what comes after.
  compareBefore();
  expect([isOpen(), isBefore()]).toEqual([true, true]);
  edit({ type: 'rename song', name: 'Another' });
  expect([isOpen(), isBefore()]).toEqual([false, false]);
});

test('rolled while the song before is heard, the new draft is the one that is kept or taken back', async () => {
  const before = openSongNow();
  proposeEnergy();
  await settled();
  compareBefore();
  proposeEnergy();
  await settled();
  expect([isOpen(), isBefore()]).toEqual([true, false]);
  compareBefore();
  expect(openSongNow()).toBe(before);
  takeBackDraft();
  expect([openSongNow(), isOpen()]).toEqual([before, false]);
});

test('a draft is taken back however much was done before it', async () => {
  for (let i = 0; i < 1000; i++) edit({ type: 'rename song', name: `Name ${i % 2}` });
  const named = openSongNow();
  proposeEnergy();
  await settled();
  const drafted = openSongNow();
  expect(steps()).toHaveLength(1000);
  compareBefore();
  expect(openSongNow()).toBe(named);
  compareBefore();
  expect(openSongNow()).toBe(drafted);
  takeBackDraft();
  expect(openSongNow()).toBe(named);
});

test('wishes are of the song, or of the section that is chosen', async () => {
  setOf('section');
  expect(useDrafting.getState().of).toBe('song');
  const [, , chorus] = laidPlaces(openSongNow());
  selectPlace(chorus.place.id);
  setOf('section');
  expect(draftedSection()).toBe(chorus.section.id);
  ask({ time: 'ride' });
  await settled();
  const { draft, sections } = openSongNow();
  expect(draft).toBeUndefined();
  expect(sections.map(({ wishes }) => wishes)).toEqual([undefined, undefined, { time: 'ride' }]);
  expect(steps()).toEqual(['ask of the draft']);
});

test('a stroke over the line is seen while it is drawn, and drafted when it is let go', async () => {
  const end = laidPlaces(openSongNow()).at(-1)!.end;
  const stroke = [
    { tick: 0, level: 0.1 },
    { tick: end, level: 0.9 },
  ];
  drawEnergy(stroke.slice(0, 1));
  drawEnergy(stroke);
  expect(openSongNow().places.every(({ energy }) => energy !== undefined)).toBe(true);
  expect(steps()).toEqual([]);
  endEnergy(stroke);
  await settled();
  expect(steps()).toEqual(['draw energy']);
  expect(reportOf(openSongNow()).counts.drafted).toBe(26);
  const [first] = laidPlaces(openSongNow());
  selectPlace(first.place.id);
  const level = () => openSongNow().places[0].energy![0].level;
  const before = level();
  shiftEnergy(0.2);
  await settled();
  expect(level()).toBeCloseTo(before + 0.2);
});

test('what is asked while a draft is made is drafted together with it', async () => {
  const waiting: (() => void)[] = [];
  answer = async (...told) => {
    await new Promise<void>((go) => waiting.push(go));
    return usual(...told);
  };
  proposeEnergy();
  await turn();
  ask({ opens: false });
  await turn();
  waiting.forEach((go) => go());
  await settled();
  expect(steps()).toEqual(['ask of the draft']);
  expect(openSongNow().draft?.opens).toBe(false);
  expect(openSongNow().places.every(({ energy }) => energy !== undefined)).toBe(true);
  expect(useDrafting.getState().working).toBe(false);
});

test('a section with a beat of one’s own is drafted anew only when that is asked for, in one step', async () => {
  const [pattern] = openSongNow().patterns;
  const [, verse] = openSongNow().sections;
  edit({ type: 'add span', section: verse.id, span: spanOver(pattern.id, 'own') });
  proposeEnergy();
  await settled();
  expect(reportOf(openSongNow()).counts).toMatchObject({ drafted: 10, elsewhere: 16 });
  selectPlace(laidPlaces(openSongNow())[1].place.id);
  draftAnew();
  await settled();
  expect(reportOf(openSongNow()).counts).toMatchObject({ drafted: 26, elsewhere: 0 });
  expect(steps().at(-1)).toBe('draft a section anew');
  expect(openSongNow().patterns).toContain(pattern);
  // What changes nothing is neither a step nor anything to keep.
  keepDraft();
  ask({});
  await settled();
  expect([steps().at(-1), isOpen()]).toEqual(['draft a section anew', false]);
});

test('a worker that stops is said, and the song stays as it was', async () => {
  const before = openSongNow();
  answer = () => Promise.reject(new Error('gone'));
  proposeEnergy();
  await settled();
  expect(openSongNow()).toBe(before);
  expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/its worker stopped/);
});

test('a stroke says why it is there', async () => {
  proposeEnergy();
  await settled();
  const [, verse] = laidPlaces(openSongNow());
  showWhy(verse.place.id, 960, 'snare');
  const { why } = useDrafting.getState();
  expect(whyAt(openSongNow(), why!)).toEqual({
    asks: 'Why this snare?',
    says: ['backbeat on 2'],
  });
});
