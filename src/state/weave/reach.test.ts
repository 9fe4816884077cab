import { newHistory } from '@/core/commands';
import type { Song } from '@/core/model';
import { heardBars } from '@/core/testing/drafts';
import { laidPlaces, REACHES, type Reach } from '@/core/weave';
import { demoSongs } from '@/demo';
import { ACTS } from '../acts';
import { takeOver } from '../gather/taking';
import { undo } from '../session/edit';
import { initial, openSongNow, useWorkbench } from '../store';
import { placesToChange, selectPlace } from './choosing';
import { playInstead, silenceChosen } from './laying';
import { setTempoHere } from './tempos';
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
