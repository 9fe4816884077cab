import { demoSongs } from '@/demo';
import { chartOf } from '@/core/deliver';
import { DENSITIES, PAPERS, roomOn, type ChartWish, type Paper } from '@/core/notation';
import { USUAL_WISHES, type Song } from '@/core/model';
import {
  drafted,
  formed,
  formIn,
  proposed,
  shippedLibrary,
  SONG_FORM,
} from '@/core/testing/drafts';
import { drawOn } from './draw';
import { measureByFont, overlapsIn, Recorder, type Inked } from './inked';

const FORM = 'intro 2, verse 4, chorus 4, bridge 4, chorus 4, outro 2';
const METERS = ['4/4', '4/4', '12/8', '7/8', '4/4', '3/4', '6/8', '4/4', '5/4'];

/** Songs of every family, in many meters, with hands that stray. */
function* draftedSongs(count: number): Generator<Song> {
  const families = shippedLibrary.families.map(({ name }) => name);
  for (let i = 0; i < count; i++) {
    const family = families[i % families.length];
    const wishes = { ...USUAL_WISHES, feel: { of: 'family' as const, family } };
    const form = formIn(METERS[i % METERS.length], FORM);
    yield drafted(
      proposed(formed(form, { ...wishes, seed: i, loose: (i % 5) / 4 }, 90 + (i % 60))),
    );
  }
}

const WISHES: ChartWish[] = DENSITIES.flatMap((density) =>
  (Object.keys(PAPERS) as Paper[]).map((paper) => ({
    density,
    paper,
    percussion: 'line' as const,
  })),
);

const said = ({ kind, text = '', groups, left, top }: Inked) =>
  `${kind} ${[...text].map((sign) => (sign > '\u2000' ? sign.charCodeAt(0).toString(16) : sign)).join('')} ${groups.join('/')} at ${Math.round(left)}, ${Math.round(top)}`;

/** The signs that lie over each other on the pages of a song, in words. */
function overlapsOf(song: Song, wish: ChartWish): string[] {
  const { notation, pages } = chartOf(song, wish);
  return pages.flatMap((page) => {
    const recorder = new Recorder();
    drawOn(recorder, page, notation, roomOn(wish.paper));
    expect(recorder.inked.length).toBeGreaterThan(10);
    return overlapsIn(recorder.inked).map(
      ([a, b]) => `${song.name}, page ${page.number}: ${said(a)} over ${said(b)}`,
    );
  });
}

beforeAll(measureByFont);

describe('on the pages of a chart nothing lies over anything but what belongs together', () => {
  test('in the demo songs, at every density and on each paper', () => {
    for (const song of demoSongs()) {
      for (const wish of WISHES) expect(overlapsOf(song, wish)).toEqual([]);
    }
  });

  test('in two hundred drafted songs', () => {
    let i = 0;
    for (const song of draftedSongs(200)) {
      // Most of them with every note.
      const wish = i % 3 === 2 ? WISHES[i % WISHES.length] : WISHES[((i / 3) % 2) | 0];
      expect(overlapsOf(song, wish)).toEqual([]);
      i++;
    }
  });

  test('which is seen where something does', () => {
    const [song] = demoSongs();
    const { notation, pages } = chartOf(song, WISHES[0]);
    const recorder = new Recorder();
    drawOn(recorder, pages[0], notation, roomOn('A4'));
    const head = recorder.inked.find(({ groups }) => groups.at(-1) === 'notehead')!;
    const words: Inked = { ...head, note: undefined, groups: [], text: 'fill' };
    expect(overlapsIn([...recorder.inked, words])).toContainEqual(
      expect.arrayContaining([words, head]),
    );
  });
});

test('what is drawn stays on its page', () => {
  for (const song of [...demoSongs(), drafted(proposed(formed(SONG_FORM)))]) {
    for (const wish of WISHES) {
      const room = roomOn(wish.paper);
      const { notation, pages } = chartOf(song, wish);
      for (const page of pages) {
        const recorder = new Recorder();
        drawOn(recorder, page, notation, room);
        const off = recorder.inked.filter(
          ({ left, right, top, bottom }) =>
            left < 0 || top < 0 || right > room.width * 10 || bottom > room.height * 10,
        );
        expect(off.map(said)).toEqual([]);
      }
    }
  }
});
