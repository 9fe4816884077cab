import { readdirSync, readFileSync } from 'node:fs';
import { checkSong, emptySong } from '../model';
import { barTicks } from '../time';
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

describe('the shipped library', () => {
  test('has at least sixteen families, and nothing in them is misunderstood', () => {
    expect(families.length).toBeGreaterThanOrEqual(16);
    expect(families.flatMap(({ report }) => report)).toEqual([]);
    expect(new Set(families.map(({ family }) => family)).size).toBe(families.length);
  });

  test.each(families)('$family has eight grooves, four fills, an intro and an ending', (family) => {
    const count = (kind: string) => family.patterns.filter((p) => p.kind === kind).length;
    expect(count('groove')).toBeGreaterThanOrEqual(8);
    expect(count('fill')).toBeGreaterThanOrEqual(4);
    expect(count('intro')).toBeGreaterThanOrEqual(1);
    expect(count('ending')).toBeGreaterThanOrEqual(1);
    const fills = family.patterns.filter((p) => p.kind === 'fill').map((p) => p.length);
    expect(new Set(fills).size).toBe(fills.length);
    const song = { ...emptySong('x', 'x', 'x'), patterns: family.patterns };
    expect(checkSong(song)).toEqual([]);
  });

  test.each(families)('$family is graded: each groove is busier than the one before', (family) => {
    const grades = family.grooves.filter((g) => g.kind === 'groove').map((g) => g.busyness);
    expect(grades).toEqual([...new Set(grades)].sort((a, b) => a - b));
  });

  test('has no two grooves that are the same', () => {
    const all = families.flatMap(({ grooves }) => grooves);
    expect(new Set(all.map(({ identity }) => identity)).size).toBe(all.length);
    expect(new Set(all.map(({ name }) => name)).size).toBe(all.length);
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

test('a fill that lasts two beats is two beats long, and keeps its step rate', () => {
  const { patterns } = readFamily('meter: 4/4\nname: F\nkind: fill\nbeats: 2\nSD |6-678-89|', 'x');
  expect(patterns[0].length).toBe(barTicks({ beats: 2, unit: 4 }));
  expect(patterns[0].step).toBe(240);
});
