import fc from 'fast-check';
import { zipSync, strToU8 } from 'fflate';
import { parseMidi } from 'midi-file';
import { demoSongs } from '../../demo';
import {
  articulationOf,
  checkSong,
  emptyPattern,
  emptySong,
  READY_MAPS,
  sectionOf,
  type Hit,
  type Song,
} from '../model';
import { exportMidi, importMidi } from '../midi';
import { placeHits } from '../pattern';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { notationOf } from '../notation';
import { laidPlaces, namesOfSections, placeName, steppedTempos, timeline } from '../weave';
import { importMusicXml } from './file';
import { readMusicXml } from './read';
import { writeMusicXml } from './write';

/** What is struck, when and how hard, in an order that depends on nothing else. */
function struck(song: Song): string[] {
  return timeline(song)
    .map(({ piece, articulation, velocity, tick }) => {
      return `${tick.toFixed(3).padStart(12, '0')} ${piece}/${articulation} ${velocity}`;
    })
    .sort();
}

/** The same by notes of General MIDI: which of its sounds a loop plays is not in a score. */
function noted(song: Song): string[] {
  return timeline(song)
    .map(({ piece, articulation, velocity, tick }) => {
      const { note } = articulationOf(piece, articulation, song.kit);
      return `${tick.toFixed(3).padStart(12, '0')} ${note} ${velocity}`;
    })
    .sort();
}

function songWith(hits: Record<string, Partial<Hit>[]>, bars = 1): Song {
  const pattern = placeHits(
    emptyPattern({ id: 'p', name: 'Pull & haul <together>', bars }),
    Object.entries(hits).flatMap(([piece, list]) =>
      list.map((hit, i) => ({
        piece,
        hit: { id: `${piece}${i}`, at: 0, push: 0, velocity: 90, articulation: 'usual', ...hit },
      })),
    ),
  );
  return {
    ...emptySong('s', 'Tide "at" <five>', 'p'),
    patterns: [pattern],
    sections: [sectionOf(pattern, { id: 'a', name: 'Chorus & all', kind: 'chorus' })],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
}

const measures = (...content: string[]) => `<?xml version="1.0"?>
<score-partwise version="3.1"><part-list><score-part id="P1"><part-name>Drumset</part-name></score-part></part-list>
<part id="P1">${content.map((one, i) => `<measure number="${i + 1}">${one}</measure>`).join('')}</part></score-partwise>`;

const FIRST =
  '<attributes><divisions>2</divisions><time><beats>2</beats><beat-type>4</beat-type></time><clef><sign>percussion</sign></clef></attributes>';
const note = (place: string, more = '', head = 'normal') =>
  `<note>${more.includes('<chord/>') ? '<chord/>' : ''}<unpitched><display-step>${place[0]}</display-step><display-octave>${place[1]}</display-octave></unpitched><duration>1</duration><voice>1</voice><type>eighth</type><notehead>${head}</notehead>${more.replace('<chord/>', '')}</note>`;
const SNARE = note('C5');
const KICK = note('F4');

const [GM] = READY_MAPS;

describe('a song as MusicXML', () => {
  test('names each stroke, whatever its note map', () => {
    fc.assert(
      fc.property(anySong, fc.constantFrom(...READY_MAPS), (song, noteMap) => {
        const { song: back } = readMusicXml(writeMusicXml({ ...song, noteMap }), 'back.musicxml');
        expect(struck(back!)).toEqual(struck(song));
      }),
    );
  });

  test('comes back with every hit where and as it was, and with its bars, sections and tempos', () => {
    fc.assert(
      fc.property(anyWholeSong, (any) => {
        const song = { ...any, noteMap: GM };
        const { song: back } = readMusicXml(writeMusicXml(song), 'back.musicxml');
        expect(noted(back!)).toEqual(noted(song));
        expect(laidPlaces(back!).map(({ start, section }) => [start, section.name.trim()])).toEqual(
          laidPlaces(song).map(({ start, section }) => [start, section.name.trim()]),
        );
        const tempos = (one: Song) =>
          steppedTempos(one, 240).map(({ at, bpm }) => [Math.round(at), bpm.toFixed(3)]);
        expect(tempos(back!)).toEqual(tempos(song));
      }),
    );
  });

  test('keeps flams, drags and even rolls as the figures they are', () => {
    const figures: Partial<Hit>[] = [
      { at: 960, flam: { strokes: 1, lead: 30, softness: 0.5 } },
      { at: 1920, flam: { strokes: 2, lead: 60, softness: 0.7 }, push: -20 },
      { at: 2880, burst: { strokes: 4, room: 960, slope: 0 } },
    ];
    const song = songWith({ snare: figures });
    const { song: back } = readMusicXml(writeMusicXml(song), 'x');
    const hits = back!.patterns[0].strands[0].hits;
    expect(hits.map(({ at, push }) => [at, push])).toEqual([
      [960, 0],
      [1920, -20],
      [2880, 0],
    ]);
    expect(hits[0].flam?.strokes).toBe(1);
    expect(hits[0].flam?.lead).toBeCloseTo(30, 3);
    expect(hits[1].flam?.lead).toBeCloseTo(60, 3);
    expect(hits[2].burst).toEqual({ strokes: 4, room: 960, slope: 0 });
  });

  test('tells ways to strike apart that have one MIDI note', () => {
    const hats = ['closed', 'open', 'half-open', 'pedal'].map((articulation, i) => ({
      articulation,
      at: i * 480,
    }));
    const { song: back } = readMusicXml(writeMusicXml(songWith({ hihat: hats })), 'x');
    expect(timeline(back!).map(({ articulation }) => articulation)).toEqual(
      hats.map(({ articulation }) => articulation),
    );
  });

  test('says names as they are, whatever they mean to XML', () => {
    const { song: back } = readMusicXml(writeMusicXml(songWith({ kick: [{}] })), 'x');
    expect([back!.name, back!.sections[0].name]).toEqual(['Tide "at" <five>', 'Chorus & all']);
  });

  test('is XML 1.0 with its elements in the order that the schema asks for', () => {
    // From the sequences of MusicXML 4.0: note, attributes, direction, score-part, score-partwise.
    const orders: Record<string, string[]> = {
      note: 'grace chord unpitched rest duration tie instrument voice type dot time-modification stem notehead beam notations'.split(
        ' ',
      ),
      attributes: 'divisions key time clef staff-details'.split(' '),
      direction: 'direction-type offset sound'.split(' '),
      'score-part': 'part-name score-instrument midi-instrument'.split(' '),
      'score-partwise': 'work identification part-list part'.split(' '),
      notations: 'tuplet ornaments technical articulations'.split(' '),
      metronome: 'beat-unit beat-unit-dot per-minute'.split(' '),
    };
    fc.assert(
      fc.property(anyWholeSong, (song) => {
        const open: { name: string; last: number }[] = [];
        for (const [, close, name, self] of writeMusicXml(song).matchAll(
          /<(\/?)([a-z][\w-]*)[^<>]*?(\/?)>/g,
        )) {
          if (close) {
            expect(open.pop()?.name).toBe(name);
            continue;
          }
          const parent = open.at(-1);
          const order = parent && orders[parent.name];
          if (order) {
            const at = order.indexOf(name);
            expect([parent.name, name, at]).toEqual([parent.name, name, Math.max(at, parent.last)]);
            parent.last = at;
          }
          if (!self) open.push({ name, last: 0 });
        }
        expect(open).toEqual([]);
      }),
    );
  });

  test('has voices that fill each bar exactly, and ids for all instruments that are used', () => {
    const xml = writeMusicXml(demoSongs()[0]);
    const ids = new Set([...xml.matchAll(/<score-instrument id="([^"]+)"/g)].map(([, id]) => id));
    for (const [, id] of xml.matchAll(/<instrument id="([^"]+)"/g)) expect(ids.has(id)).toBe(true);
    for (const [, bar] of xml.matchAll(/<measure[^>]*>(.*?)<\/measure>/gs)) {
      const back = Number(/<backup><duration>(\d+)/.exec(bar)?.[1] ?? 0);
      const voices = bar.split('<backup>');
      for (const voice of voices) {
        const notes = voice.replace(/^<duration>\d+<\/duration><\/backup>/, '').split('<note');
        const total = notes
          .filter((one) => !one.includes('<chord/>') && !one.includes('<grace'))
          .reduce((sum, one) => sum + Number(/<duration>([\d.]+)/.exec(one)?.[1] ?? 0), 0);
        if (back > 0) expect(total).toBeCloseTo(back, 6);
      }
    }
  });
});

describe('a score from elsewhere', () => {
  const hits = (xml: string) =>
    timeline(readMusicXml(xml, 'x.xml').song!).map(({ tick, piece, articulation }) => [
      tick,
      piece,
      articulation,
    ]);

  test('is read by where its notes stand and how their heads look, where no instrument says it', () => {
    const [hat, open] = [note('G5', '', 'x'), note('G5', '', 'circle-x')];
    expect(hits(measures(FIRST + hat + note('C5', '<chord/>') + open + KICK + SNARE))).toEqual([
      [0, 'hihat', 'closed'],
      [0, 'snare', 'centre'],
      [480, 'hihat', 'open'],
      [960, 'kick', 'beater'],
      [1440, 'snare', 'centre'],
    ]);
  });

  test('is played with its repeats and endings', () => {
    const bar = (kicks: number, line: string) =>
      KICK.repeat(kicks) + SNARE.repeat(4 - kicks) + `<barline>${line}</barline>`;
    const xml = measures(
      FIRST + bar(1, '<repeat direction="forward"/>'),
      `<barline><ending number="1" type="start"/></barline>` +
        bar(2, '<ending number="1" type="stop"/><repeat direction="backward"/>'),
      `<barline><ending number="2" type="start"/></barline>` +
        bar(3, '<ending number="2" type="discontinue"/>'),
      bar(4, ''),
    );
    const kicks = new Map<number, number>();
    for (const [tick, piece] of hits(xml) as [number, string][]) {
      if (piece === 'kick')
        kicks.set(Math.floor(tick / 1920), (kicks.get(Math.floor(tick / 1920)) ?? 0) + 1);
    }
    expect([...kicks.values()]).toEqual([1, 2, 1, 3, 4]);
  });

  test('has bars that are only a sign written out, ties struck once, and slashes told of', () => {
    const sign =
      '<attributes><measure-style><measure-repeat type="start">1</measure-repeat></measure-style></attributes>';
    const tied = note('C5', '<tie type="stop"/>');
    const xml = measures(
      FIRST + KICK + SNARE + tied + KICK,
      sign + '<note><rest/><duration>4</duration></note>',
      '<attributes><measure-style><measure-repeat type="stop"/></measure-style></attributes>' +
        note('B4', '', 'slash').repeat(4),
    );
    expect(hits(xml).map(([tick]) => tick)).toEqual([0, 480, 1440, 1920, 2400, 3360]);
    expect(readMusicXml(xml, 'x').report.leftOut.join()).toMatch(/4 slashes/);
  });

  test('takes the part for drums and says which parts were not taken', () => {
    const piano = '<score-part id="P2"><part-name>Piano</part-name></score-part>';
    const part = `<part id="P2"><measure number="1">${'<note><pitch><step>C</step><octave>4</octave></pitch><duration>1</duration></note>'.repeat(3)}</measure></part>`;
    const xml = measures(FIRST + KICK)
      .replace('</part-list>', `${piano}</part-list>`)
      .replace('</score-partwise>', `${part}</score-partwise>`);
    const { report, song } = readMusicXml(xml, 'x');
    expect(timeline(song!)).toHaveLength(1);
    expect(report.leftOut.join()).toMatch(/“Piano”: 3 notes not chosen/);
  });

  test('comes in packed as well, by what its container names', () => {
    const container =
      '<container><rootfiles><rootfile full-path="score/a.xml"/></rootfiles></container>';
    const packed = zipSync({
      'META-INF/container.xml': strToU8(container),
      'score/b.xml': strToU8(measures(FIRST)),
      'score/a.xml': strToU8(measures(FIRST + KICK)),
    });
    expect(importMusicXml(packed, 'x.mxl').report.hits).toBe(1);
  });
});

describe('a score that is not as it should be', () => {
  const whole = writeMusicXml(demoSongs()[1]);

  /** A sound song with what was struck, or a reason: never both, never neither. */
  const isReadOrRefused = ({ song, report }: ReturnType<typeof readMusicXml>) => {
    expect(song === undefined).toBe(report.error !== undefined);
    if (!song) return;
    expect(checkSong(song)).toEqual([]);
    expect(timeline(song).length).toBeGreaterThanOrEqual(report.hits);
  };

  test('is kept as far as it goes, wherever it is cut', () => {
    const all = readMusicXml(whole, 'x').report.hits;
    let before = 0;
    for (const share of [0.2, 0.4, 0.6, 0.8, 0.999]) {
      const { song, report } = readMusicXml(whole.slice(0, whole.length * share), 'x');
      isReadOrRefused({ song, report });
      expect(report.hits).toBeGreaterThanOrEqual(before);
      expect(report.hits).toBeLessThanOrEqual(all);
      if (song) expect(report.repaired.join()).toMatch(/cut off at line/);
      before = report.hits;
    }
    expect(before).toBeGreaterThan(all / 2);
  });

  test('with strokes far from where they are written has them where they are written, and says so', () => {
    const far = FIRST + KICK.replace('<note', '<note attack="99999"');
    const { song, report } = readMusicXml(measures(far), 'x');
    expect(checkSong(song!)).toEqual([]);
    expect(report.repaired.join()).toMatch(/sounds? far from where/);
    expect(timeline(song!)[0].tick).toBe(timeline(song!)[0].home);
  });

  test('does not unfold names that stand for much text, nor nest without end', () => {
    const bomb = `<!DOCTYPE z [<!ENTITY a "${'x'.repeat(1000)}"><!ENTITY b "${'&a;'.repeat(1000)}">]>`;
    const { report } = readMusicXml(
      bomb +
        measures(FIRST + KICK)
          .replace(/<\?xml.*\?>/, '')
          .replace('Drumset', '&b;'),
      'x',
    );
    expect(report.error).toMatch(/damaged at line 2/);
    expect(readMusicXml('<a>'.repeat(100_000), 'x').report.error).toMatch(/no MusicXML/);
  });

  test.each([
    ['', /is empty/],
    ['<score-timewise/>', /timewise/],
    ['<html></html>', /no MusicXML score: it begins with <html>/],
    ['<score-partwise/>', /holds no measures/],
    ['PK\u0003\u0004 cut', /damaged or cut off/],
  ])('%j is refused in a sentence', (content, said) => {
    expect(importMusicXml(strToU8(content), 'x.mxl').report.error).toMatch(said);
  });
});

describe('sections are called alike wherever the song goes', () => {
  const placeNames = (song: Song) => laidPlaces(song).map((laid) => placeName(song, laid));
  const pattern = songWith({ snare: [{ at: 960 }] }).patterns[0];
  const other = { ...songWith({ kick: [{ at: 0 }] }).patterns[0], id: 'q', name: 'Other' };
  /** Two verses that differ, a chorus that comes again, and a part whose own name ends in a number. */
  const song: Song = {
    ...songWith({}),
    patterns: [pattern, other],
    sections: [
      sectionOf(pattern, { id: 'a', name: 'verse', kind: 'verse' }),
      sectionOf(other, { id: 'b', name: 'chorus', kind: 'chorus' }),
      sectionOf(other, { id: 'c', name: 'verse', kind: 'verse' }),
      sectionOf(pattern, { id: 'd', name: 'take 5', kind: 'part' }),
    ],
    places: ['a', 'b', 'c', 'b', 'd'].map((section, i) => ({ id: `x${i}`, section, overlay: [] })),
  };
  const NAMES = ['verse 1', 'chorus 1', 'verse 2', 'chorus 2', 'take 5'];
  const read = {
    MIDI: (one: Song) => importMidi(exportMidi(one), 'a.mid').song!,
    MusicXML: (one: Song) => readMusicXml(writeMusicXml(one), 'a.musicxml').song!,
  };

  test.each(['MIDI', 'MusicXML'] as const)('in %s, and back with their places linked', (form) => {
    const back = read[form](song);
    expect(placeNames(back)).toEqual(NAMES);
    expect(back.places[1].section).toBe(back.places[3].section);
    for (const demo of demoSongs()) {
      expect(placeNames(read[form](demo))).toEqual(placeNames(demo));
    }
  });

  test('in the file itself, as on the chart', () => {
    const markers = parseMidi(exportMidi(song))
      .tracks.flat()
      .flatMap((event) => (event.type === 'marker' ? [event.text] : []));
    expect(markers).toEqual(NAMES);
    expect(notationOf(song).bars.flatMap(({ label }) => label ?? [])).toEqual(NAMES);
  });

  test('and a name keeps a number that counts nothing', () => {
    for (const names of [['verse 2', 'verse 3'], ['verse 1', 'verse'], ['verse 1'], ['a 2', 'a 1']])
      expect(namesOfSections(names)).toEqual(names);
    expect(namesOfSections(['a 1', 'b', 'a 2', ''])).toEqual(['a', 'b', 'a', '']);
  });
});
