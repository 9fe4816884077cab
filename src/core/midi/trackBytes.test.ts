import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { PendingEnds } from './pending';
import { TrackBytes } from './trackBytes';

/** A track as the only one of a file, read by a reader of its own. */
function readBack(chunk: Uint8Array) {
  const header = Uint8Array.of(0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 3, 192);
  return parseMidi(Uint8Array.from([...header, ...chunk])).tracks[0];
}

test('events come back at the ticks they were written at, however far apart', () => {
  const waits = fc.array(
    fc.oneof(fc.constant(0), fc.nat(200), fc.nat(20_000), fc.nat(3_000_000), fc.nat(600_000_000)),
    { minLength: 1, maxLength: 40 },
  );
  fc.assert(
    fc.property(waits, (gaps) => {
      const track = new TrackBytes();
      let tick = 0;
      const ticks = gaps.map((gap) => (tick += gap));
      ticks.forEach((at, i) => track.message(at, 0x99, i % 128, 1 + (i % 127)));
      let now = 0;
      const strokes = readBack(track.chunk(tick)).flatMap((event) => {
        now += event.deltaTime;
        return event.type === 'noteOn' ? [{ tick: now, note: event.noteNumber }] : [];
      });
      expect(strokes).toEqual(ticks.map((at, i) => ({ tick: at, note: i % 128 })));
    }),
  );
});

test('texts of any length and alphabet come back, and the end is where it is said to be', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 300 }), fc.nat(100_000), (text, end) => {
      const track = new TrackBytes();
      track.text(0, 0x03, text);
      const [name, last] = readBack(track.chunk(end));
      const bytes = Uint8Array.from((name as { text: string }).text, (c) => c.charCodeAt(0));
      expect(new TextDecoder().decode(bytes)).toBe(text);
      expect(last).toMatchObject({ type: 'endOfTrack', deltaTime: end });
    }),
  );
});

test('a track never ends before its last event', () => {
  const track = new TrackBytes();
  track.message(500, 0x99, 36, 100);
  expect(readBack(track.chunk(20)).at(-1)).toMatchObject({ type: 'endOfTrack', deltaTime: 0 });
});

test('notes that sound end in the order of time, whenever they began', () => {
  const steps = fc.array(fc.oneof(fc.nat(1000), fc.constant('end' as const)), { maxLength: 300 });
  fc.assert(
    fc.property(steps, (acts) => {
      const pending = new PendingEnds();
      let sounding: number[] = [];
      acts.forEach((act, i) => {
        if (act !== 'end') {
          pending.add(act, i);
          sounding.push(act);
          return;
        }
        sounding = sounding.sort((a, b) => a - b);
        expect(pending.next).toBe(sounding[0] ?? Infinity);
        if (sounding.length === 0) return;
        expect(acts[pending.take()]).toBe(sounding.shift());
      });
    }),
  );
});
