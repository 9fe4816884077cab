import fc from 'fast-check';
import 'fake-indexeddb/auto';
import { LoomDb } from './db';
import { lineOf, linesOf } from './logLines';
import { Journal } from './journal';

const changes = fc.array(
  fc.record({
    song: fc.string(),
    n: fc.nat(),
    difference: fc.dictionary(fc.string(), fc.jsonValue()),
  }),
);

test('a log gives back the changes that were written to it, also when its last line is cut off', () => {
  fc.assert(
    fc.property(changes, fc.nat(40), (written, cut) => {
      const plain = JSON.parse(JSON.stringify(written)) as typeof written;
      const text = plain.map(({ song, n, difference }) =>
        lineOf(song, n, JSON.stringify(difference)),
      );
      expect(linesOf(text.join(''))).toEqual(plain);
      const last = text.at(-1) ?? '';
      const torn = text.slice(0, -1).join('') + last.slice(0, Math.max(0, last.length - 2 - cut));
      expect(linesOf(torn)).toEqual(plain.slice(0, -1));
    }),
  );
});

test('whatever a log holds, reading it gives changes or nothing', () => {
  fc.assert(
    fc.property(fc.oneof(fc.string(), fc.json()), (text) => {
      for (const { song, n, difference } of linesOf(text)) {
        expect([typeof song, Number.isSafeInteger(n), typeof difference]).toEqual([
          'string',
          true,
          'object',
        ]);
      }
    }),
  );
  expect(linesOf('["s",1]\t{}\n["s","1"]\t{}\n["s",2]\tnull\n[1,2]\t{}')).toEqual([
    { song: 's', n: 1, difference: {} },
  ]);
});

test('a song is read once what killed tabs have left is in the database', async () => {
  const at = new LoomDb('fast');
  const difference = { fields: { name: 'Kelp' } } as never;
  const left = { song: 's', n: 1, difference };
  const noted: string[] = [];
  const journal = new Journal(
    () => at,
    () => undefined,
    () => ({
      note: ({ n }, text) => void noted.push(`${n} ${text}`),
      forget: (_, upTo) => void noted.push(`forget ${upTo}`),
      ready: () => at.journal.put(left),
    }),
  );
  expect(await journal.after('s', 0)).toEqual([left]);
  journal.note({ song: 's', n: 2, difference });
  await journal.forget('s', 2);
  expect(noted).toEqual([`2 ${JSON.stringify(difference)}`, 'forget 2']);
});
