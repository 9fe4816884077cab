import fc from 'fast-check';
import { anySong } from '../testing/arbitraries';
import { checkSong } from './check';
import { findPiece, KIT_PIECES, noteOf, pieceOfNote } from './pieces';
import { emptySong } from './make';
import type { Song } from './song';

describe('the kit', () => {
  test('gives every MIDI note one piece and articulation, and back', () => {
    for (let note = 0; note < 128; note++) {
      const { piece, articulation } = pieceOfNote(note);
      expect(noteOf(piece.id, articulation.id)).toBe(note);
      expect(findPiece(piece.id)).toBe(piece);
    }
  });

  test('has all of General MIDI percussion, notes 35 to 81, once', () => {
    const notes = KIT_PIECES.flatMap((p) =>
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
    ['a span beyond its section', (s) => (s.sections[0].spans[0].to = 1e6), /within/],
    ['two patterns of one id', (s) => s.patterns.push(s.patterns[0]), /same id/],
    ['a tempo that starts late', (s) => (s.tempo[0].at = 1), /start at tick 0/],
    ['a tempo of nothing', (s) => (s.tempo[0].bpm = 0), /4 to 2000/],
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
});
