import { newHistory } from '@/core/commands';
import type { Song } from '@/core/model';
import { heardBars } from '@/core/testing/drafts';
import { bpmAt, laidPlaces, REACHES, type Reach } from '@/core/weave';
import { demoSongs } from '@/demo';
import { ACTS } from '../acts';
import { takeOver } from '../gather/taking';
import { cancelGesture, undo } from '../session/edit';
import { tapTempo } from '../session/tap';
import { initial, openSongNow, useWorkbench } from '../store';
import { placesToChange, selectPlace } from './choosing';
import { playInstead, silenceChosen } from './laying';
import { removeTempoHere, setGlideHere, setTempoHere, slowToEnd } from './tempos';
import { fitNow, mendFinding } from './views';
import { setMeterFrom } from './weave';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const here = () => laidPlaces(openSongNow()).find(({ place: { id } }) => id === PLACE)!;
/** A place of a section that is played three times, and whose pattern another section plays too. */
const PLACE = 'place-5';

/** What each act that keeps the reach does once it is asked for all it asks. */
const DONE: Readonly<Record<string, () => unknown>> = {
  silence: silenceChosen,
  'play-another': () => playInstead('tide'),
  'take-onto-place': () => {
    const { reach } = useWorkbench.getState();
    const pattern = openSongNow().patterns.find(({ id }) => id === 'tide')!;
    const pieces = pattern.strands.map(({ piece }) => piece);
    return takeOver(pattern, pieces, { place: PLACE, reach, mode: 'replace', fit: 'repeat' });
  },
  'section-meter': () => setMeterFrom(0, { beats: 3, unit: 4 }),
  'mend-all': () => mendFinding(true),
  fit: () => fitNow('follow', false),
  tempo: () => setTempoHere(here(), 0, 77),
};

/** What the places play, and how fast. */
function stateOf(song: Song): Map<string, string> {
  const heard = heardBars(song);
  return new Map(
    laidPlaces(song).map(({ place, tempos, section }, i) => [
      place.id,
      JSON.stringify([heard[i], tempos, section.meters]),
    ]),
  );
}

beforeEach(() => {
  useWorkbench.setState({ ...initial, status: 'ready', stage: 'weave', history: newHistory(demo) });
  selectPlace(PLACE);
});

const others = (song: Song) =>
  JSON.stringify([...stateOf(song)].filter(([place]) => place !== PLACE));

test('with the reach “this place”, tempos are changed, glide and go in that place alone', () => {
  useWorkbench.setState({ reach: 'section' });
  setTempoHere(here(), 0, 77);
  const before = others(openSongNow());
  useWorkbench.setState({ reach: 'place' });
  for (const change of [
    () => setGlideHere(here(), 0, true),
    () => removeTempoHere(here(), 0),
    () => [0, 500, 1000, 1500].forEach((now) => tapTempo(now)),
  ]) {
    const own = stateOf(openSongNow()).get(PLACE);
    change();
    expect(stateOf(openSongNow()).get(PLACE)).not.toBe(own);
    expect(others(openSongNow())).toBe(before);
    cancelGesture();
    undo();
    expect(stateOf(openSongNow()).get(PLACE)).toBe(own);
    setTempoHere(here(), 0, 77);
  }
});

test.each(REACHES)(
  'slowing down to the end is of the last place alone, with the reach “%s”',
  (reach) => {
    // The last place is one of three of its section.
    const { id, section } = openSongNow().places[2];
    const song = { ...demo, places: [...demo.places, { ...demo.places[2], id: 'last', section }] };
    useWorkbench.setState({ reach, history: newHistory(song) });
    const before = stateOf(song);
    slowToEnd();
    const after = stateOf(openSongNow());
    const end = laidPlaces(openSongNow()).at(-1)!.end;
    expect(bpmAt(openSongNow(), end)).toBe(Math.round(demo.bpm * 0.75));
    expect(after.get(id)).toBe(before.get(id));
    expect([...after.keys()].filter((place) => after.get(place) !== before.get(place))).toEqual([
      'last',
    ]);
  },
);

test('every act that keeps the reach is tried here', () => {
  const keeping = ACTS.filter(({ reaches }) => reaches).map(({ id }) => id);
  expect(keeping.sort()).toEqual(Object.keys(DONE).sort());
});

describe.each(REACHES)('with the reach “%s”', (reach: Reach) => {
  test.each(Object.keys(DONE))('“%s” changes the places that are shown, and no other', (id) => {
    useWorkbench.setState({ reach });
    const shown = new Set(placesToChange(useWorkbench.getState()));
    const before = stateOf(openSongNow());
    DONE[id]();
    const after = stateOf(openSongNow());
    const changed = [...before.keys()].filter((place) => before.get(place) !== after.get(place));
    for (const place of changed) expect([place, shown.has(place)]).toEqual([place, true]);
    if (reach === 'place') expect(changed.length).toBeLessThanOrEqual(1);
    // What goes as far as the section changes all its places at least, where nothing lies over it.
    if (['play-another', 'tempo', 'section-meter'].includes(id)) {
      expect(changed).toContain(PLACE);
      if (reach !== 'place') expect(changed.length).toBeGreaterThan(2);
    }
    undo();
  });
});
