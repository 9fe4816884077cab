import { checkSong } from '@/core';
import { turnBar } from '@/core/pattern';
import { barTicks } from '@/core/time';
import { demoSongs } from '@/demo';
import { undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as turns from './turns';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [song] = demoSongs();
const verse = song.patterns[0];

beforeEach(() => {
  // It plays already: hearing a change does not start the transport.
  openBench(song, { patternId: verse.id, playing: true });
});

const shown = () => openSongNow().patterns.find(({ id }) => id === verse.id)!;
const turn = () => useWorkbench.getState().turn;
/** All bars before the last, but for their first step: a crash may land on the one that follows. */
const outsideTheTurn = () => {
  const pattern = shown();
  const from = turnBar(pattern) * barTicks(pattern.meter);
  return pattern.strands.map(({ piece, hits }) => [
    piece,
    hits.filter(({ at }) => at > 0 && at < from),
  ]);
};

test('growing doubles the pattern, repeats what was there and goes to its last bar', () => {
  turns.growPattern();
  expect(shown().length).toBe(2 * verse.length);
  for (const { piece, hits } of verse.strands) {
    const now = shown().strands.find((strand) => strand.piece === piece)!.hits;
    expect(now.map(({ at }) => at).slice(0, hits.length)).toEqual(hits.map(({ at }) => at));
  }
  expect(useWorkbench.getState().cursor.at).toBe(turnBar(shown()) * barTicks(verse.meter));
  expect(turns.offered().length).toBeGreaterThanOrEqual(3);
  undo();
  expect(shown()).toEqual(verse);
});

test('a change is heard in its bar alone; heard again, everything is as before', () => {
  turns.growPattern();
  for (const { kind } of turns.offered()) {
    const before = shown();
    const rest = outsideTheTurn();
    turns.hearTurn(kind);
    expect(shown()).not.toEqual(before);
    expect(outsideTheTurn()).toEqual(rest);
    expect(checkSong(openSongNow())).toEqual([]);
    turns.hearTurn(kind);
    expect(shown()).toEqual(before);
  }
});

test('keys go round all that is offered, take one and dismiss others', () => {
  turns.growPattern();
  const grown = shown();
  const kinds = turns.offered().map(({ kind }) => kind);
  const heard = kinds.map(() => {
    turns.hearNextTurn();
    return turn()!.heard;
  });
  expect(heard).toEqual(kinds);
  turns.dismissHeardTurn();
  expect(turns.offered().map(({ kind }) => kind)).toEqual(kinds.slice(0, -1));
  expect(shown()).toEqual(grown);
  turns.hearNextTurn();
  const preview = shown();
  turns.takeHeardTurn();
  expect(shown()).toEqual(preview);
  turns.closeTurns();
  expect(shown()).toEqual(preview);
  undo();
  expect(shown()).toEqual(grown);
});

test('what is only heard is not taken when the offers are closed', () => {
  turns.offerTurns();
  turns.hearNextTurn();
  expect(shown()).not.toEqual(verse);
  turns.closeTurns();
  expect([shown(), turn()]).toEqual([verse, undefined]);
});

test('other offers are other ones, and taking without hearing says what to do', () => {
  turns.offerTurns();
  const heardOf = () =>
    turns.offered().map(({ kind }) => {
      turns.hearTurn(kind);
      const heard = JSON.stringify(shown().strands.map(({ hits }) => hits.map(({ at }) => at)));
      turns.hearTurn(kind);
      return heard;
    });
  const first = heardOf();
  turns.otherTurns();
  expect(heardOf()).not.toEqual(first);
  turns.takeHeardTurn();
  turns.dismissHeardTurn();
  expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/Hear a change first/);
});
