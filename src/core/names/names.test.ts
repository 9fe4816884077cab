import fc from 'fast-check';
import { cleanName, fileName, pathsOf, tableOf } from '.';

/** Names as users, files and attackers write them. */
const anyName = fc.oneof(
  fc.string({ unit: 'binary', maxLength: 300 }),
  fc.constantFrom(
    'Verse',
    'verse',
    'VERSE ',
    'Verse.',
    'con',
    'Aux.txt',
    'LPT1',
    '..',
    '.hidden',
    '',
  ),
  fc.constantFrom(
    'Vers/e',
    'Vers\\e',
    'Vers:e',
    'a\u202egnp',
    '\ud800',
    'x'.repeat(400),
    'ü'.repeat(300),
  ),
);
const anyFile = fc.record({ file: anyName, ending: fc.constantFrom('mid', 'wav') });

test('a name is one that every system takes, and cleaning it again changes nothing', () => {
  fc.assert(
    fc.property(anyName, (name) => {
      const clean = cleanName(name);
      expect(clean).not.toMatch(/[\\/:*?"<>|\p{Cc}\p{Cs}\u202a-\u202e\u2066-\u2069]/u);
      expect(clean).not.toMatch(/^[\s.]|[\s.]$/);
      expect(clean).not.toMatch(/^(con|prn|aux|nul|(com|lpt)\d)(\.|$)/i);
      expect(clean).not.toBe('');
      expect(Buffer.byteLength(fileName(name, 'musicxml'))).toBeLessThan(200);
      expect(Buffer.from(clean).toString()).toBe(clean);
      expect(cleanName(clean)).toBe(clean);
    }),
  );
});

test('a name keeps its letters, and no character is cut in two', () => {
  expect(cleanName('Ebbe und Flut, Übung 3')).toBe('Ebbe und Flut, Übung 3');
  expect(cleanName('ü'.repeat(300))).toBe('ü'.repeat(80));
  expect(cleanName(`${'x'.repeat(158)}👩‍👩‍👧`)).toBe('x'.repeat(158));
  expect(cleanName('nul.wav')).toBe('nul-');
  expect(cleanName('null and void')).toBe('null and void');
  expect(cleanName('a\u202egnp.mid')).toBe('a-gnp.mid');
  expect(cleanName(' . ', 'part')).toBe('part');
});

test('of files that lie together none is another one, however they are called', () => {
  fc.assert(
    fc.property(fc.array(anyFile, { maxLength: 40 }), fc.boolean(), (files, flat) => {
      const paths = pathsOf(files, flat);
      expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(files.length);
      paths.forEach((path, i) => {
        expect(path.endsWith(`.${files[i].ending}`)).toBe(true);
        for (const part of path.split('/')) expect(Buffer.byteLength(part)).toBeLessThan(200);
        if (flat) expect(path).not.toContain('/');
      });
    }),
  );
});

test('names that agree once they are cut are told apart by a number, and the first keeps its own', () => {
  const long = 'Verse '.repeat(50);
  const named = (names: string[], flat = false) =>
    pathsOf(
      names.map((file) => ({ file, ending: 'mid' })),
      flat,
    );
  const [first, second, third] = named([`${long}1`, `${long}2`, `${long}3`]);
  expect([second, third]).toEqual([2, 3].map((n) => first.replace('.mid', ` (${n}).mid`)));
  expect(named(['Beat', 'beat', 'Beat (2)'])).toEqual([
    'Beat.mid',
    'beat (2).mid',
    'Beat (2) (2).mid',
  ]);
  expect(named(['a/Beat', 'b/Beat'])).toEqual(['a/Beat.mid', 'b/Beat.mid']);
  expect(named(['a/Beat', 'b/Beat'], true)).toEqual(['Beat.mid', 'Beat (2).mid']);
});

test('a table computes nothing that a name says, in whichever of its lines', () => {
  const rows = (name: string) => tableOf(['name', 'n'], [[name, -1]]).split('\r\n')[1];
  expect(rows('=1+1')).toBe(`"'=1+1",-1`);
  expect(rows('=1\n+1')).toBe(`"'=1\n+1",-1`);
  expect(rows('Beat\n=1')).toBe(`"'Beat\n=1",-1`);
  expect(rows('\t@x')).toBe(`"'\t@x",-1`);
  expect(rows('Beat - 2')).toBe('Beat - 2,-1');
});
