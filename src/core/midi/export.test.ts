import { guideOf } from '../model';
import fc from 'fast-check';
import JZZ from 'jzz';
import withFiles, { type SmfFile } from 'jzz-midi-smf';
import { parseMidi, type MidiEvent } from 'midi-file';
import {
  emptyPattern,
  emptySong,
  layoutByPiece,
  sectionOf,
  TEN_KEYS,
  type Hit,
  type Song,
} from '../model';
import { placeHits } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { timeline } from '../weave';
import { contentsOf } from './contents';
import { exportMidi } from './export';
import { importMidi } from './import';
import { demoSongs } from '../../demo';

/** The events of a track at their ticks. */
function timed(track: readonly MidiEvent[]): (MidiEvent & { tick: number })[] {
  let tick = 0;
  return track.map((event) => ({ ...event, tick: (tick += event.deltaTime) }));
}

const hit = (at: number, rest: Partial<Hit> = {}): Hit => ({
  id: `h${at}`,
  at,
  push: 0,
  velocity: 90,
  articulation: 'usual',
  ...rest,
});

function songWith(piece: string, hits: Hit[], bars = 1): Song {
  const pattern = placeHits(
    emptyPattern({ id: 'p', name: 'Ebbe 3/4 übers Watt', bars }),
    hits.map((h) => ({ piece, hit: h })),
  );
  return {
    ...emptySong('s', 'Möwe', 'p'),
    patterns: [pattern],
    sections: [sectionOf(pattern, { id: 'a', name: 'Strophe für zwei', kind: 'verse' })],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
}

describe('an exported file', () => {
  test('has every hit of the timeline, at any resolution', () => {
    fc.assert(
      fc.property(anyWholeSong, fc.constantFrom(24, 96, 480, 960, 3840), (song, ppq) => {
        const { header, tracks } = parseMidi(exportMidi(song, { ppq }));
        const ons = timed(tracks[0]).filter((event) => event.type === 'noteOn');
        expect(header.ticksPerBeat).toBe(ppq);
        expect(ons.map((event) => event.tick)).toEqual(
          timeline(song)
            .map((h) => Math.round((h.tick * ppq) / 960))
            .sort((a, b) => a - b),
        );
      }),
    );
  });

  test('is what Deliver said it would be', () => {
    fc.assert(
      fc.property(anyWholeSong, (song) => {
        for (const layout of ['one', 'pieces'] as const) {
          const contents = contentsOf(song, { layout });
          const { tracks } = parseMidi(exportMidi(song, { layout }));
          const written = tracks.map((track) => track.filter((e) => e.type === 'noteOn').length);
          const said = contents.tracks.map((track) => track.hits);
          expect(written.slice(layout === 'one' ? 0 : 1)).toEqual(said);
          expect(said.reduce((a, b) => a + b, 0)).toBe(contents.hits);
        }
      }),
    );
  });

  test('lasts as long as the song, also where it ends in silence', () => {
    const { tracks } = parseMidi(exportMidi(songWith('kick', [hit(0)], 4)));
    expect(timed(tracks[0]).at(-1)).toMatchObject({ type: 'endOfTrack', tick: 4 * 3840 });
  });

  test('holds a hit without a length for a 32nd, or up to the next stroke', () => {
    const { tracks } = parseMidi(exportMidi(songWith('snare', [hit(0), hit(40), hit(960)])));
    const offs = timed(tracks[0]).filter((event) => event.type === 'noteOff');
    expect(offs.map((event) => event.tick)).toEqual([40, 160, 1080]);
  });

  test('keeps names in any alphabet through a round trip', () => {
    const { song } = importMidi(exportMidi(songWith('kick', [hit(0)])), 'x.mid');
    expect(song?.sections[0].name).toBe('Strophe für zwei');
  });

  test('says strokes with another note map when it is given one', () => {
    const song = songWith('hihat', [hit(0, { articulation: 'open' }), hit(480)]);
    const noteMap = new Map([['hihat/open', 26]]);
    const notes = parseMidi(exportMidi(song, { noteMap })).tracks[0].flatMap((event) =>
      event.type === 'noteOn' ? [event.noteNumber] : [],
    );
    expect(notes).toEqual([26, 42]);
  });

  test('of one pattern is that pattern once, from its start', () => {
    const song = { ...songWith('kick', [hit(960)]), places: [] };
    const { tracks } = parseMidi(exportMidi(song, { pattern: 'p' }));
    const ons = timed(tracks[0]).filter((event) => event.type === 'noteOn');
    expect(ons.map((event) => event.tick)).toEqual([960]);
  });

  test('waits as long as it has to, beyond what one event can state', () => {
    const song = songWith('kick', [hit(0)], 64);
    const late = { ...song, sections: [{ ...song.sections[0], bars: 2500 }] };
    const ends = timed(parseMidi(exportMidi(late, { ppq: 32_767 })).tracks[0]);
    expect(ends.at(-1)).toMatchObject({ type: 'endOfTrack', tick: 10_000 * 32_767 });
  });

  test('ends a note before the next of its pitch begins, and never before it began', () => {
    fc.assert(
      fc.property(anyWholeSong, fc.constantFrom(24, 960), (song, ppq) => {
        const sounding = new Map<number, number>();
        for (const event of timed(parseMidi(exportMidi(song, { ppq })).tracks[0])) {
          if (event.type !== 'noteOn' && event.type !== 'noteOff') continue;
          const key = event.channel * 128 + event.noteNumber;
          const open = (sounding.get(key) ?? 0) + (event.type === 'noteOn' ? 1 : -1);
          expect(open).toBeGreaterThanOrEqual(0);
          sounding.set(key, open);
        }
        expect([...sounding.values()].every((open) => open === 0)).toBe(true);
      }),
    );
  });

  test.each([0, 0.5, 40_000, NaN])('cannot count %p ticks a quarter note', (ppq) => {
    expect(() => exportMidi(songWith('kick', [hit(0)]), { ppq })).toThrow(RangeError);
  });
});

describe('guides in a file', () => {
  const note = (at: number) => ({ at, length: 480, note: 40, velocity: 90 });
  const withGuides = (song: Song, starts: readonly number[]): Song => ({
    ...song,
    guides: starts.map((at, i) => guideOf(`g${i}`, `Bass ${i}`, at, [0, 960, 1e9].map(note))),
  });

  test('are there only when they are asked for, and the drums are the same with and without', () => {
    fc.assert(
      fc.property(
        anyWholeSong,
        fc.constantFrom('one' as const, 'pieces' as const),
        (plain, layout) => {
          const song = withGuides(plain, [0]);
          expect(exportMidi(song, { layout })).toEqual(exportMidi(plain, { layout }));
          const both = importMidi(exportMidi(song, { layout, guides: true }), 'both.mid');
          const drums = importMidi(exportMidi(plain, { layout }), 'drums.mid');
          if (!drums.song) return;
          expect(timeline(both.song!).map(({ tick, hit }) => [tick, hit])).toEqual(
            timeline(drums.song).map(({ tick, hit }) => [tick, hit]),
          );
        },
      ),
    );
  });

  test('keep their place, end with the song, and stay off the drum channel', () => {
    const song = withGuides(
      demoSongs()[0],
      Array.from({ length: 16 }, () => 3840),
    );
    const { tracks } = parseMidi(exportMidi(song, { layout: 'pieces', guides: true }));
    const basses = tracks.filter(
      ([first]) => first.type === 'trackName' && /^Bass/.test(first.text),
    );
    expect(basses).toHaveLength(16);
    const ons = basses.map((track) => {
      let tick = 0;
      return track.flatMap((event) => {
        tick += event.deltaTime;
        return event.type === 'noteOn' ? [[tick, event.channel]] : [];
      });
    });
    expect(ons[0]).toEqual([
      [3840, 0],
      [4800, 0],
    ]);
    expect(ons.flat().some(([, channel]) => channel === 9)).toBe(false);
    const said = contentsOf(song, { layout: 'pieces', guides: true }).tracks.filter((t) => t.guide);
    expect(said.map(({ hits }) => hits)).toEqual(ons.map((list) => list.length));
  });
});

test('a pattern whose hits come only on some passes is written until all of it was heard, or as often as asked', () => {
  const song = songWith('kick', [hit(0), hit(960, { cycle: { of: 3, on: [2] } })]);
  const notes = (passes?: number) =>
    parseMidi(exportMidi(song, { pattern: 'p', ...(passes && { passes }) })).tracks[0].filter(
      ({ type }) => type === 'noteOn',
    ).length;
  expect([notes(), notes(1), notes(2)]).toEqual([4, 1, 3]);
});

test('two readers that have nothing in common read the same notes from it', () => {
  withFiles(JZZ);
  const { SMF } = JZZ.MIDI as unknown as { SMF: new (bytes: string) => SmfFile };
  fc.assert(
    fc.property(
      anyWholeSong,
      fc.constantFrom('one' as const, 'pieces' as const),
      (song, layout) => {
        const bytes = exportMidi(song, { layout });
        const { tracks, header } = parseMidi(bytes);
        const one = tracks.map((track) =>
          timed(track).flatMap((event) =>
            event.type === 'noteOn' || event.type === 'noteOff'
              ? [[event.tick, event.type, event.channel, event.noteNumber]]
              : [],
          ),
        );
        const file = new SMF(String.fromCharCode(...bytes));
        const other = [...file].map((track) =>
          [...track].flatMap((event) => {
            const [status = 0, note] = [...event];
            const kind = status & 0xf0;
            const on = kind === 0x90;
            return on || kind === 0x80
              ? [[event.tt, on ? 'noteOn' : 'noteOff', status & 15, note]]
              : [];
          }),
        );
        expect(other).toEqual(one);
        expect([file.type, file.ppqn]).toEqual([header.format, header.ticksPerBeat]);
      },
    ),
  );
});

describe('what a file can be asked for', () => {
  const held = (song: Song, options: Parameters<typeof exportMidi>[1]) =>
    timed(parseMidi(exportMidi(song, options)).tracks[0]).flatMap((event) =>
      event.type === 'noteOff' ? [event.tick] : [],
    );

  test('notes are as long as asked, and never into the next of their pitch', () => {
    const song = songWith('snare', [hit(0, { length: 300 }), hit(960), hit(1200)]);
    expect(held(song, { lengths: 'played' })).toEqual([300, 1080, 1320]);
    expect(held(song, { lengths: 480 })).toEqual([480, 1200, 1680]);
    expect(held(song, { lengths: 'next' })).toEqual([960, 1200, 3840]);
  });

  test('a choke goes out as key pressure and comes back as a choke', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(15), { minLength: 1 }),
        fc.integer({ min: 1, max: 239 }),
        (steps, choke) => {
          const hits = steps.map((step) => hit(step * 240, step % 2 ? { choke } : {}));
          const song = songWith('crash', hits);
          const back = importMidi(exportMidi(song), 'x').song!;
          const chokes = (one: Song) =>
            timeline(one).map(({ tick, touch }) => [tick, touch?.choke]);
          expect(chokes(back)).toEqual(chokes(song));
        },
      ),
    );
  });

  test('notes of one pitch that overlap come back exactly from a file of several tracks', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.nat(20), length: fc.integer({ min: 1, max: 2000 }) }), {
          minLength: 2,
          maxLength: 12,
        }),
        (notes) => {
          const hits = notes.map(({ at, length }, i) => ({
            ...hit(at * 100, { length }),
            id: `h${i}`,
          }));
          const song = songWith('ride', hits);
          const back = importMidi(exportMidi(song, { layout: 'pieces' }), 'x').song!;
          const lengths = (one: Song) =>
            timeline(one)
              .map(({ tick, length }) => `${tick}: ${length}`)
              .sort();
          expect(lengths(back)).toEqual(lengths(song));
        },
      ),
    );
  });

  test('a track has the channel and the note map it is given, and no other does', () => {
    const song = demoSongs()[0];
    const layout = layoutByPiece(song.kit, ['kick', 'snare', 'hihat', 'ride', 'crash']);
    const kick = layout.tracks.find(({ name }) => name === 'Kick')!.id;
    const options = { layout, tracks: { [kick]: { channel: 3, noteMap: TEN_KEYS } } };
    const { tracks } = parseMidi(exportMidi(song, options));
    for (const events of tracks.slice(1)) {
      const named = events.find((event) => event.type === 'trackName');
      const own = named?.type === 'trackName' && named.text === 'Kick';
      for (const event of events) {
        if (event.type !== 'noteOn') continue;
        expect([event.channel, event.noteNumber === 60]).toEqual(own ? [3, true] : [9, false]);
      }
    }
    const said = contentsOf(song, options).tracks.find(({ id }) => id === kick);
    expect([said?.channels, said?.notes]).toEqual([[3], [60]]);
  });

  test('what is said at its start, and a glide in finer or coarser steps', () => {
    const song = songWith('kick', [hit(0)], 2);
    const tempos = [
      { at: 0, bpm: 100, glide: true as const },
      { at: 3840, bpm: 140 },
    ];
    const gliding = { ...song, sections: [{ ...song.sections[0], tempos }] };
    const events = (glideStep: number) =>
      parseMidi(exportMidi(gliding, { glideStep, copyright: 'Two of us', text: 'Take 3' }))
        .tracks[0];
    expect(events(960).filter(({ type }) => type === 'setTempo')).toHaveLength(5);
    expect(events(120).filter(({ type }) => type === 'setTempo')).toHaveLength(33);
    expect(events(960)).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ type: 'copyrightNotice', text: 'Two of us' }),
        expect.objectContaining({ type: 'text', text: 'Take 3' }),
      ]),
    );
  });
});
