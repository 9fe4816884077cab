import fc from 'fast-check';

/** One change of a file: where, as a share of its length, and what. */
type Change =
  | { kind: 'set'; where: number; bytes: readonly number[] }
  | { kind: 'insert'; where: number; bytes: readonly number[] }
  | { kind: 'copy'; where: number; from: number; length: number }
  | { kind: 'drop'; where: number; length: number };

/** Anywhere in a file: its beginning, which refuses the whole, is no more likely than the rest. */
const share = fc.noBias(fc.nat(999_999)).map((n) => n / 1_000_000);
/** Bytes that formats give a meaning: ends of ranges, signs, and what begins a number of several bytes. */
const anyByte = fc.oneof(fc.constantFrom(0, 1, 0x7f, 0x80, 0x81, 0xff), fc.nat(255));
const anyBytes = fc.array(anyByte, { minLength: 1, maxLength: 4 });
const anyChange: fc.Arbitrary<Change> = fc.oneof(
  {
    weight: 8,
    arbitrary: fc.record({ kind: fc.constant('set' as const), where: share, bytes: anyBytes }),
  },
  fc.record({ kind: fc.constant('insert' as const), where: share, bytes: anyBytes }),
  fc.record({ kind: fc.constant('copy' as const), where: share, from: share, length: fc.nat(400) }),
  fc.record({ kind: fc.constant('drop' as const), where: share, length: fc.nat(200) }),
);

function changed(bytes: Uint8Array, change: Change): Uint8Array {
  const at = Math.floor(change.where * bytes.length);
  const around = (between: ArrayLike<number>, drop: number) =>
    Uint8Array.from([
      ...bytes.subarray(0, at),
      ...Array.from(between),
      ...bytes.subarray(at + drop),
    ]);
  switch (change.kind) {
    case 'set':
      return around(change.bytes, change.bytes.length);
    case 'insert':
      return around(change.bytes, 0);
    case 'drop':
      return around([], change.length);
    case 'copy': {
      const from = Math.floor(change.from * bytes.length);
      return around(bytes.subarray(from, from + change.length), 0);
    }
  }
}

/** One in eight. */
const rarely = <T>(one: fc.Arbitrary<T>) =>
  fc.oneof({ weight: 7, arbitrary: fc.constant(undefined) }, { weight: 1, arbitrary: one });

/** Files as they come damaged, made up, or from programs that mean something else by the format. */
export const mutated = (files: fc.Arbitrary<Uint8Array>): fc.Arbitrary<Uint8Array> =>
  fc
    .tuple(files, fc.array(anyChange, { maxLength: 4 }), rarely(share))
    .map(([bytes, changes, cut]) => {
      const after = changes.reduce(changed, bytes);
      return cut === undefined ? after : after.slice(0, Math.ceil(cut * after.length));
    });

/** Numbers that a text has in place of its own. */
const anyNumber = fc.oneof(
  fc.constantFrom('0', '-1', '1e9', '999999999', '1e308', 'NaN', '', '0.000001', '-999999999'),
  fc.integer().map(String),
);

/** Texts in which numbers are other numbers, lines come twice or are gone, and letters are others. */
export const mutatedText = (texts: fc.Arbitrary<string>): fc.Arbitrary<string> =>
  fc
    .tuple(
      texts,
      fc.array(fc.tuple(share, anyNumber), { maxLength: 6 }),
      rarely(fc.array(fc.tuple(share, share, fc.nat(6)), { maxLength: 4 })),
      rarely(fc.array(fc.tuple(share, fc.string({ maxLength: 6 })), { maxLength: 3 })),
    )
    .map(([text, numbers, copies = [], letters = []]) => {
      let after = text;
      for (const [where, number] of numbers) {
        const found = [...after.matchAll(/-?\d+(\.\d+)?/g)];
        const one = found[Math.floor(where * (found.length - 1))];
        if (one)
          after = after.slice(0, one.index) + number + after.slice(one.index + one[0].length);
      }
      for (const [from, to, count] of copies) {
        const lines = after.split('\n');
        const at = Math.floor(from * lines.length);
        const copied = lines.slice(at, at + count);
        lines.splice(Math.floor(to * lines.length), count % 2, ...copied);
        after = lines.join('\n');
      }
      for (const [where, put] of letters) {
        const at = Math.floor(where * after.length);
        after = after.slice(0, at) + put + after.slice(at + put.length);
      }
      return after;
    });
