import fc from 'fast-check';
import { demoSongs } from '../demo';
import { LivePart, PULSE, WIRE, type LiveRoute } from '../core/midi';
import { layoutOf, type Song } from '../core/model';
import { heardBy } from '../core/tracks';
import { songTicks, tempoOfSong, timeline } from '../core/weave';
import { LiveOut } from './liveOut';
import type { MusicNow } from './player';

const [demo] = demoSongs();
const tempo = tempoOfSong(demo);
const secondsOf = (tick: number) => tempo.secondsAt(tick);

interface Sent {
  data: readonly number[];
  at: number;
}

/** Everything to one output, through a receiver that notes what it gets. */
function receiver(clear?: (sent: Sent[]) => void) {
  const sent: Sent[] = [];
  const port = {
    id: 'x',
    name: 'x',
    send: (data: readonly number[], at: number) => void sent.push({ data, at }),
    ...(clear && { clear: () => clear(sent) }),
  };
  const out = new LiveOut(() => new Map([['x', port]]));
  const ons = () => sent.filter(({ data }) => (data[0] & 0xf0) === 0x90);
  return { sent, out, ons };
}

const routes = (song: Song, route: Partial<LiveRoute> = {}): Record<string, LiveRoute> =>
  Object.fromEntries(
    layoutOf(song).tracks.map(({ id }) => [id, { output: 'x', offset: 0, ...route }]),
  );

/** Reports of a transport that plays from a tick for some seconds, with a loop or without. */
function play(
  out: LiveOut,
  {
    from = 0,
    seconds,
    loop,
    every = 21,
  }: { from?: number; seconds: number; loop?: MusicNow['loop']; every?: number },
  start = 1000,
) {
  const begin = secondsOf(from);
  const round = loop ? secondsOf(loop.to) - secondsOf(loop.from) : Infinity;
  for (let ms = 0; ms <= seconds * 1000; ms += every) {
    let at = begin + ms / 1000;
    while (loop && at >= secondsOf(loop.to)) at -= round;
    out.follow({ playing: true, tick: tempo.tickAt(at), at: start + ms, loop, song: demo });
  }
  out.follow({ playing: false, tick: 0, at: start + seconds * 1000, loop, song: demo });
}

test('each hit is sent once, at the moment at which it is heard', () => {
  fc.assert(
    fc.property(fc.integer({ min: 5, max: 90 }), fc.nat(songTicks(demo) / 2), (every, from) => {
      const { out, ons } = receiver();
      out.take(new LivePart(demo, routes(demo)));
      play(out, { from, seconds: 6, every });
      const end = secondsOf(from) + 6;
      const wanted = timeline(demo).filter(
        ({ tick }) => tick >= from && secondsOf(tick) < end - 0.01,
      );
      const got = ons().filter(({ at }) => at < 1000 + (end - secondsOf(from) - 0.01) * 1000);
      expect(got).toHaveLength(wanted.length);
      wanted.forEach(({ tick, velocity }, i) => {
        expect(got[i].at).toBeCloseTo(1000 + (secondsOf(tick) - secondsOf(from)) * 1000, 3);
        expect(wanted.some((one) => one.velocity === velocity)).toBe(true);
      });
    }),
  );
});

test('what goes round is sent in each round, and no note is left sounding', () => {
  const loop = { from: 3840, to: 7680 };
  const { out, ons, sent } = receiver();
  out.take(new LivePart(demo, routes(demo)));
  play(out, { from: 3840, seconds: 9, loop });
  const inLoop = timeline(demo).filter(({ tick }) => tick >= loop.from && tick < loop.to);
  const round = (secondsOf(loop.to) - secondsOf(loop.from)) * 1000;
  const got = ons();
  for (let n = 0; (n + 1) * round < 9000; n++) {
    inLoop.forEach(({ tick }, i) => {
      const due = 1000 + n * round + (secondsOf(tick) - secondsOf(loop.from)) * 1000;
      expect(got[n * inLoop.length + i].at).toBeCloseTo(due, 3);
    });
  }
  const sounding = new Map<number, number>();
  for (const { data } of sent) {
    const on = (data[0] & 0xf0) === 0x90;
    sounding.set(data[1], (sounding.get(data[1]) ?? 0) + (on ? 1 : -1));
  }
  expect(Math.max(...sounding.values())).toBeLessThanOrEqual(0);
});

test('a track is sent earlier or later as it was set, on its channel, and no other', () => {
  const { out, sent } = receiver();
  const kick = { kick: { output: 'x', offset: -80, channel: 4 } };
  out.take(new LivePart(demo, kick));
  play(out, { seconds: 4 });
  const kicks = timeline(demo).filter(({ piece, tick }) => piece === 'kick' && secondsOf(tick) < 4);
  const got = sent.filter(({ data }) => data[0] === 0x94);
  expect(got.slice(0, kicks.length).map(({ at }) => Math.round(at))).toEqual(
    kicks.map(({ tick }) => Math.round(920 + secondsOf(tick) * 1000)),
  );
  expect(sent.every(({ data }) => (data[0] & 15) === 4)).toBe(true);
});

test('a clock starts, counts 24 pulses a quarter note, is placed where playing begins, and stops', () => {
  const { out, sent } = receiver();
  out.take(new LivePart(demo, {}, ['x']));
  play(out, { seconds: 2 });
  const kinds = (kind: number) => sent.filter(({ data }) => data[0] === kind);
  expect(sent[0].data).toEqual([WIRE.start]);
  expect(kinds(WIRE.stop)).toHaveLength(1);
  const pulses = kinds(WIRE.clock);
  pulses.forEach(({ at }, n) => expect(at).toBeCloseTo(1000 + secondsOf(n * PULSE) * 1000, 3));
  sent.length = 0;
  play(out, { from: 3840 + 100, seconds: 1 });
  expect(sent[0].data).toEqual([WIRE.position, 17, 0]);
  expect(sent[1].data).toEqual([WIRE.continue]);
  expect(sent[1].at).toBeCloseTo(1000 + (secondsOf(4080) - secondsOf(3940)) * 1000, 3);
});

test('when the transport is moved, it goes on from there, and nothing in between is sent', () => {
  const { out, ons } = receiver();
  out.take(new LivePart(demo, routes(demo)));
  const to = 20 * 3840;
  const report = (tick: number, at: number) =>
    out.follow({ playing: true, tick, at, loop: undefined, song: demo });
  report(0, 0);
  report(to, 21);
  const hits = timeline(demo).filter(
    ({ tick }) => tick >= to && (secondsOf(tick) - secondsOf(to)) * 1000 < 140,
  );
  const later = ons().filter(({ at }) => at >= 21);
  expect(later.length).toBeGreaterThanOrEqual(hits.length);
  for (const { at } of later) expect(at).toBeLessThan(21 + 151);
});

test('nothing sounds after a stop, of a port that can withdraw messages and of one that cannot', () => {
  fc.assert(
    fc.property(fc.boolean(), fc.integer({ min: 300, max: 6000 }), (canClear, stop) => {
      const stopped = 1000 + stop;
      const withdrawn = (sent: Sent[]) => {
        const due = sent.filter(({ at }) => at <= stopped);
        sent.splice(0, sent.length, ...due);
      };
      const { out, sent } = receiver(canClear ? withdrawn : undefined);
      out.take(new LivePart(demo, routes(demo)));
      play(out, { seconds: stop / 1000, every: stop });
      const sounding = new Set<number>();
      const heardAt = new Map<number, number>();
      for (const { data, at } of [...sent].sort((a, b) => a.at - b.at)) {
        const kind = data[0] & 0xf0;
        if (kind === 0x90) sounding.add(data[1]);
        else if (kind === 0x80) sounding.delete(data[1]);
        else expect([data[0] & 0xf0, data[1]]).toEqual([0xb0, 120]);
        heardAt.set(at, sounding.size);
      }
      expect(sent.length).toBeGreaterThan(0);
      for (const [at, count] of heardAt) if (at >= stopped) expect(count).toBe(0);
      expect(sounding.size).toBe(0);
    }),
  );
});

test('a track that a section mutes is not sent there', () => {
  const [{ section, id }] = demo.places;
  const muted: Song = {
    ...demo,
    sections: demo.sections.map((one) =>
      one.id === section ? { ...one, mix: { strips: [{ track: 'kick', mute: true }] } } : one,
    ),
  };
  const part = new LivePart(muted, { kick: { output: 'x', offset: 0 } }, [], heardBy(muted));
  const kicks = timeline(muted).filter(({ piece }) => piece === 'kick');
  const sections = new Map(muted.places.map((place) => [place.id, place.section]));
  const heard = kicks.filter(({ place }) => sections.get(place) !== section);
  expect(kicks.some(({ place }) => place === id)).toBe(true);
  const sent = part.between(0, songTicks(muted)).filter(({ data }) => data[0] >> 4 === 9);
  expect(sent.map(({ tick }) => tick)).toEqual(heard.map(({ tick }) => tick));
});
