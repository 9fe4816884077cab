import fc from 'fast-check';
import { anySong } from '../testing/arbitraries';
import { checkSong } from './check';
import { DEFAULT_KIT, findPiece, pieceOfNote } from './kit';
import { noteOf } from './noteMap';
import type { Hit } from './hit';
import { emptySong } from './newSong';
import type { Strand } from './pattern';
import type { Song } from './song';
import { demoSongs } from '../../demo';

describe('the kit', () => {
  test('gives every MIDI note one piece and articulation, and back', () => {
    for (let note = 0; note < 128; note++) {
      const { piece, articulation } = pieceOfNote(note);
      expect(noteOf(piece.id, articulation.id)).toBe(note);
      expect(findPiece(piece.id)).toBe(piece);
    }
  });

  test('has all of General MIDI percussion, notes 35 to 81, once', () => {
    const notes = DEFAULT_KIT.pieces.flatMap((p) =>
      p.articulations.filter((a) => a.sound === undefined).map((a) => a.note),
    );
    expect(notes.sort((a, b) => a - b)).toEqual(Array.from({ length: 47 }, (_, i) => 35 + i));
  });

  test('knows no piece for a name that is none', () => {
    for (const id of ['note-128', 'note-38', 'note--1', 'gong', '']) {
      expect(findPiece(id)).toBeUndefined();
    }
  });
});

describe('what must hold of a song', () => {
  test('holds of an empty song and of any that is made by the rules', () => {
    expect(checkSong(emptySong('a', 'b', 'c'))).toEqual([]);
    fc.assert(fc.property(anySong, (song) => expect(checkSong(song)).toEqual([])));
  });

  const broken: [string, (song: Song) => void, RegExp][] = [
    ['a velocity of 0', (s) => (s.patterns[0].strands[0].hits[0].velocity = 0), /velocity/],
    ['a hit outside its pattern', (s) => (s.patterns[0].strands[0].hits[0].at = 1e6), /outside/],
    ['a push that is no number', (s) => (s.patterns[0].strands[0].hits[0].push = NaN), /pushed/],
    ['a place without its section', (s) => (s.places[0].section = 'gone'), /not there/],
    ['a span without its pattern', (s) => (s.sections[0].spans[0].pattern = 'x'), /not there/],
    ['a span that ends before it starts', (s) => (s.sections[0].spans[0].from = -5), /within/],
    ['two patterns of one id', (s) => s.patterns.push(s.patterns[0]), /same id/],
    [
      'a tempo that starts late',
      (s) => (s.sections[0].tempos = [{ at: 1, bpm: 90 }]),
      /first at the start/,
    ],
    ['a tempo of nothing', (s) => (s.bpm = 0), /4 to 2000/],
    ['strands out of order', (s) => s.patterns[0].strands.reverse(), /staff order/],
  ];
  test.each(broken)('%s is found and named', (_, spoil, sentence) => {
    const [song] = fc.sample(
      anySong.filter((s) => s.places[0].section === 's-a'),
      { numRuns: 1, seed: 7 },
    );
    const copy = structuredClone(song);
    const [strand] = copy.patterns[0].strands;
    strand.hits = [{ id: 'only', at: 0, push: 0, velocity: 90, articulation: 'edge' }];
    expect(checkSong(copy)).toEqual([]);
    spoil(copy);
    expect(
      checkSong(copy)
        .map((problem) => problem.what)
        .join(),
    ).toMatch(sentence);
  });

  const hit = (change: Partial<Hit>) => (s: Song) =>
    Object.assign(s.patterns[0].strands.find((strand) => strand.hits.length > 1)!.hits[0], change);
  const row = (change: Partial<Strand>) => (s: Song) =>
    Object.assign(
      s.patterns[0].strands.find((strand) => strand.hits.length > 1)!,
      change,
    );
  const pattern = (change: object) => (s: Song) => Object.assign(s.patterns[0], change);

  const unplayable: [string, (song: Song) => unknown, RegExp][] = [
    ['a flam of three', hit({ flam: { strokes: 3 as 2, lead: 30, softness: 0.5 } }), /one grace/],
    ['a flam a second early', hit({ flam: { strokes: 1, lead: 1000, softness: 0.5 } }), /5 to 120/],
    [
      'a flam softer than nothing',
      hit({ flam: { strokes: 1, lead: 30, softness: 2 } }),
      /softness/,
    ],
    ['a burst of one', hit({ burst: { strokes: 1, room: 240, slope: 0 } }), /2 to 8/],
    ['a burst without room', hit({ burst: { strokes: 3, room: 0, slope: 0 } }), /room/],
    ['a burst too steep', hit({ burst: { strokes: 3, room: 240, slope: 3 } }), /-1 to 1/],
    ['a cycle of one pass', hit({ cycle: { of: 1, on: [1] } }), /2 to 16/],
    ['a cycle on no pass', hit({ cycle: { of: 4, on: [] } }), /times that there are/],
    [
      'a cycle on a fifth pass of four',
      hit({ cycle: { of: 4, on: [2, 5] } }),
      /times that there are/,
    ],
    ['a choke before the stroke', hit({ choke: -1 }), /after the stroke/],
    ['a pan beyond the loudspeaker', hit({ pan: 1.5 }), /pan/],
    ['a drum tuned by two octaves', hit({ tune: 2400 }), /1200 cents/],
    ['a room louder than all', hit({ room: 2 }), /send/],
    ['an echo of no number', hit({ echo: NaN }), /send/],
    ['a channel 17', hit({ source: 16 }), /1 to 16/],
    ['a note that lasts less than nothing', hit({ length: -1 }), /less than nothing/],
    ['an articulation of another piece', hit({ articulation: 'tongue' }), /no such articulation/],
    ['a hit without a name', hit({ id: '' }), /no id/],
    ['a row that loops longer than its pattern', row({ loopTicks: 1e6 }), /loop within/],
    ['a row without steps', row({ stepTicks: 0 }), /no step rate/],
    ['a piece that is none', row({ piece: 'gong' }), /no such kit piece/],
    ['a pattern of no length', pattern({ length: 0 }), /last from/],
    ['a pattern that swings too far', pattern({ swing: { percent: 90, unit: 480 } }), /50 to 75/],
    ['a pattern in a dye that is none', pattern({ dye: 99 }), /dye/],
    ['a meter of nothing', pattern({ meter: { beats: 0, unit: 4 } }), /time signature/],
    ['a kind that is none', pattern({ kind: 'solo' }), /kind/],
    [
      'a feel that strikes with nothing',
      (s) =>
        (s.feels = [
          {
            id: 'f',
            name: 'F',
            length: 960,
            points: [{ piece: 'kick', at: 0, push: 0, velocity: 0 }],
          },
        ] as unknown as Song['feels']),
      /cannot be played/,
    ],
    ['two guides of one id', (s) => (s.guides = [...s.guides, s.guides[0]]), /same id/],
  ];
  test.each(unplayable)('%s is found and named', (_, spoil, sentence) => {
    const copy = structuredClone(demoSongs()[0]);
    expect(checkSong(copy)).toEqual([]);
    spoil(copy);
    expect(
      checkSong(copy)
        .map(({ what }) => what)
        .join(),
    ).toMatch(sentence);
  });
});
