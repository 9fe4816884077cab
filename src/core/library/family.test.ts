import { readdirSync, readFileSync } from 'node:fs';
import { checkSong, emptySong, pieceOf, type Pattern } from '../model';
import { barTicks, meterName } from '../time';
import { readFamily } from './family';
import { grooveOfPattern } from './groove';

const FOLDER = 'public/library';
const families = readdirSync(FOLDER)
  .filter((file) => file.endsWith('.tab'))
  .map((file) => {
    const id = file.replace(/\.tab$/, '');
    const read = readFamily(readFileSync(`${FOLDER}/${file}`, 'utf8'), id);
    const grooves = read.patterns.map((pattern) =>
      grooveOfPattern(pattern, read.bpm, { id: pattern.id, family: read.family }),
    );
    return { id, ...read, grooves };
  });

/** The families as they are written: the strays of hands are no meaning. */
const written = readdirSync(FOLDER)
  .filter((name) => name.endsWith('.tab'))
  .map((file) => {
    const text = readFileSync(`${FOLDER}/${file}`, 'utf8').replace(/^(lean|swing):.*$/gm, '');
    return readFamily(text, file.replace(/\.tab$/, ''));
  });

/** The strokes of each bar, whatever their strength: piece, way and place. */
function strokesOfBars({ strands, length, meter }: Pattern): string[] {
  const bar = barTicks(meter);
  return Array.from({ length: Math.ceil(length / bar) }, (_, index) =>
    strands
      .flatMap(({ piece, hits }) =>
        hits
          .filter(({ at }) => Math.floor(at / bar) === index)
          .map(({ at, articulation }) => `${piece} ${articulation} ${at % bar}`),
      )
      .sort()
      .join(),
  );
}

describe('the shipped library', () => {
  test('has thirty families, each with a name and a line of its own; nothing is misunderstood', () => {
    expect(families.length).toBeGreaterThanOrEqual(30);
    expect(families.flatMap(({ report }) => report)).toEqual([]);
    for (const said of ['family', 'about'] as const) {
      expect(new Set(families.map((family) => family[said])).size).toBe(families.length);
    }
    for (const { about } of families) expect(about).toMatch(/\b[Ff]or .*\.$|\b[Tt]o .*\.$/);
  });

  test.each(families)(
    '$family has grooves, fills of many lengths, intros and endings',
    (family) => {
      const count = (kind: string) => family.patterns.filter((p) => p.kind === kind).length;
      expect(count('groove')).toBeGreaterThanOrEqual(16);
      expect(count('fill')).toBeGreaterThanOrEqual(6);
      expect(count('intro')).toBeGreaterThanOrEqual(2);
      expect(count('ending')).toBeGreaterThanOrEqual(2);
      const fills = family.patterns.filter((p) => p.kind === 'fill');
      const lengths = fills.map((p) => `${p.length} of ${barTicks(p.meter)}`);
      expect(new Set(lengths).size).toBe(fills.length);
      const song = { ...emptySong('x', 'x', 'x'), patterns: family.patterns };
      expect(checkSong(song)).toEqual([]);
    },
  );

  test.each(families)(
    '$family: half of the grooves are longer than a bar, and none copies its bar',
    (family) => {
      const grooves = family.patterns.filter((p) => p.kind === 'groove').map(strokesOfBars);
      const longer = grooves.filter((bars) => bars.length > 1);
      expect(longer.length).toBeGreaterThanOrEqual(grooves.length / 2);
      for (const bars of longer) expect(new Set(bars).size).toBeGreaterThan(1);
    },
  );

  test.each(families)('$family is graded: each groove is busier than the one before', (family) => {
    const grades = family.grooves.filter((g) => g.kind === 'groove').map((g) => g.busyness);
    expect(grades).toEqual([...new Set(grades)].sort((a, b) => a - b));
  });

  test('has no two grooves of the same strokes, and no two of one name', () => {
    const all = families.flatMap(({ patterns }) => patterns);
    const strokes = all.map(
      (p) => `${meterName(p.meter)} ${p.length} ${strokesOfBars(p).join('|')}`,
    );
    expect(strokes.filter((text, i) => strokes.indexOf(text) < i)).toEqual([]);
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
  });

  test('asks for no third hand on the kit, whatever others play beside it', () => {
    const drums = new Set(['snare', 'toms', 'hats', 'cymbals']);
    for (const { patterns } of written) {
      for (const { id, strands } of patterns) {
        const hands = new Map<number, number>();
        for (const { piece, hits } of strands) {
          if (!drums.has(pieceOf(piece).family)) continue;
          for (const { at, articulation } of hits) {
            if (articulation !== 'pedal') hands.set(at, (hands.get(at) ?? 0) + 1);
          }
        }
        expect([id, Math.max(0, ...hands.values()) <= 2]).toEqual([id, true]);
      }
    }
  });

  test('means how hard each way of striking is: none is always of one strength', () => {
    const velocities = new Map<string, Set<number>>();
    for (const { patterns } of written) {
      for (const { strands } of patterns) {
        for (const { piece, hits } of strands) {
          for (const hit of hits) {
            const way = `${piece} ${hit.articulation}`;
            velocities.set(way, (velocities.get(way) ?? new Set()).add(hit.velocity));
          }
        }
      }
    }
    for (const way of [
      'hihat open',
      'hihat pedal',
      'hihat half-open',
      'ride bell',
      'snare side-stick',
    ]) {
      expect([way, velocities.get(way)!.size >= 3]).toEqual([way, true]);
    }
  });

  test('compound meters are counted at tempos that can be played: their dotted beats from 50 to 120', () => {
    const compound = families.flatMap(({ bpm, patterns }) =>
      patterns
        .filter(({ meter }) => meter.unit === 8 && meter.beats % 3 === 0 && meter.beats > 3)
        .map(() => bpm / 1.5),
    );
    expect(compound.length).toBeGreaterThan(0);
    for (const dotted of compound) expect([dotted >= 50, dotted <= 120]).toEqual([true, true]);
  });

  test('is played by hands, but for the machines: few strokes are exactly on the grid', () => {
    for (const { id, patterns } of families) {
      const hits = patterns.flatMap(({ strands }) => strands.flatMap((strand) => strand.hits));
      const exact = hits.filter(({ push }) => push === 0).length / hits.length;
      const machine = ['four-on-the-floor', 'programmed'].includes(id);
      expect(exact > 0.5).toBe(machine);
    }
  });

  test('repeats: read twice it is the same', () => {
    const text = readFileSync(`${FOLDER}/funk.tab`, 'utf8');
    expect(readFamily(text, 'funk')).toEqual(readFamily(text, 'funk'));
  });
});

test('what a head or a block says wrongly is named, and the rest is read', () => {
  const read = readFamily(
    'family: X\nlean: SD 7, QQ 3\nswing: 90 of 1/16\nname: A\nSD |--8-|\n\nname: B\nQQ |x---|',
    'x',
  );
  expect(read.patterns).toHaveLength(1);
  expect(read.report.join(' ')).toMatch(/QQ 3.*90 of 1\/16.*no kit piece “QQ”/);
});

test('a groove is found by what its name says, whatever comes before it', () => {
  const block = (name: string) => `name: ${name}\nBD |x---|\n\n`;
  const ids = (text: string) => readFamily(text, 'x').patterns.map(({ id }) => id);
  expect(
    ids(block('Rock 2: on the One') + block('Rock fill: two beats') + block('Rock 9: on the one')),
  ).toEqual(['x/on-the-one', 'x/fill-two-beats', 'x/on-the-one-2']);
  expect(ids(block('Rock 1: before') + block('Rock 2: on the one'))).toContain('x/on-the-one');
});

test('a block may have a meter of its own, also for a fill of a part of a bar', () => {
  const { patterns, report } = readFamily(
    'meter: 4/4\nname: A\nmeter: 7/8\nBD |x-------------|\n\nname: F\nmeter: 9/8\nbeats: 1.5\nSD |6-6---|',
    'x',
  );
  expect(report).toEqual([]);
  expect(patterns.map(({ meter }) => meterName(meter))).toEqual(['7/8', '9/8']);
  expect(patterns[1].length).toBe(1440);
  expect(patterns[1].strands[0].hits.map(({ at }) => at)).toEqual([0, 480]);
});

test('a fill that lasts two beats is two beats long, and keeps its step rate', () => {
  const { patterns } = readFamily('meter: 4/4\nname: F\nkind: fill\nbeats: 2\nSD |6-678-89|', 'x');
  expect(patterns[0].length).toBe(barTicks({ beats: 2, unit: 4 }));
  expect(patterns[0].step).toBe(240);
});
