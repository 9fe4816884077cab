import fc from 'fast-check';
import { WaveFile } from 'wavefile';
import { readSoundFile, type FileSamples } from './read';

const RATE = 44_100;
const wave = (n: number, phase = 0) =>
  Array.from({ length: n }, (_, i) => 0.7 * Math.sin(i / 9 + phase) * Math.exp(-i / 500));

/** An AIFF file, written by its description: `kind` makes it an AIFF-C. */
function aiff(sides: readonly number[][], bits: 8 | 16 | 24 | 32, kind?: string): Uint8Array {
  const width = bits / 8;
  const data = new DataView(new ArrayBuffer(sides.length * sides[0].length * width));
  sides[0].forEach((_, i) =>
    sides.forEach((side, channel) => {
      const at = (i * sides.length + channel) * width;
      if (kind === 'fl32') return data.setFloat32(at, side[i]);
      const value = Math.round(side[i] * (2 ** (bits - 1) - 1));
      for (let n = 0; n < width; n++) {
        const shift = kind === 'sowt' ? 8 * n : 8 * (width - 1 - n);
        data.setUint8(at + n, (value >> shift) & 255);
      }
    }),
  );
  const chunk = (id: string, content: readonly number[]) => [
    ...Buffer.from(id),
    ...be(content.length, 4),
    ...content,
    ...(content.length % 2 ? [0] : []),
  ];
  const be = (value: number, size: number) =>
    Array.from({ length: size }, (_, i) => Math.floor(value / 256 ** (size - 1 - i)) % 256);
  // 44,100 as a number of 80 bits: 2 to the power of 15, and 44,100 from the first of 64 bits on.
  const rate = [0x40, 0x0e, 0xac, 0x44, 0, 0, 0, 0, 0, 0];
  const about = [...be(sides.length, 2), ...be(sides[0].length, 4), ...be(bits, 2), ...rate];
  const packed = kind ? [...Buffer.from(kind), 0, 0] : [];
  const body = [
    ...Buffer.from(kind ? 'AIFC' : 'AIFF'),
    ...chunk('NAME', [...Buffer.from('shed')]),
    ...chunk('COMM', [...about, ...packed]),
    ...chunk('SSND', [...be(0, 4), ...be(0, 4), ...new Uint8Array(data.buffer)]),
  ];
  return Uint8Array.from([...Buffer.from('FORM'), ...be(body.length, 4), ...body]);
}

const apart = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);

test('AIFF and AIFF-C are read to the sample, of any depth and number of channels', () => {
  const sides = [wave(901), wave(901, 1)];
  const kinds = [
    [8, undefined],
    [16, undefined],
    [24, undefined],
    [32, undefined],
    [16, 'sowt'],
    [24, 'sowt'],
    [32, 'fl32'],
  ] as const;
  for (const [bits, kind] of kinds) {
    for (const count of [1, 2]) {
      const read = readSoundFile(aiff(sides.slice(0, count), bits, kind)) as FileSamples;
      expect(read.rate).toBe(RATE);
      expect(read.channels).toHaveLength(count);
      read.channels.forEach((side, n) =>
        expect(apart(side, sides[n])).toBeLessThan(2 ** (1.4 - bits) + 1e-7),
      );
    }
  }
  expect(readSoundFile(aiff(sides, 16, 'ima4'))).toMatch(/packed as “ima4”.*save it as plain/);
});

test('WAV of 64 bits, A-law and µ-law is read; what is not is named', () => {
  const wav = (bits: string, change = (_: WaveFile) => {}) => {
    const file = new WaveFile();
    const full = bits === '16' ? 32_767 : 1;
    file.fromScratch(
      1,
      RATE,
      bits,
      wave(1010).map((x) => x * full),
    );
    change(file);
    return file.toBuffer();
  };
  const read = (bytes: Uint8Array) => readSoundFile(bytes) as FileSamples;
  expect(apart(read(wav('64')).channels[0], wave(1010))).toBeLessThan(1e-7);
  const packed = [
    [wav('16', (file) => file.toALaw()), 0.03],
    [wav('16', (file) => file.toMuLaw()), 0.03],
  ] as const;
  for (const [bytes, off] of packed) {
    const { rate, channels } = read(bytes);
    expect(rate).toBe(RATE);
    expect(apart(channels[0], wave(1010))).toBeLessThan(off);
  }
  const ima = wav('16', (file) => file.toMuLaw());
  ima[20] = 0x11;
  expect(readSoundFile(ima)).toMatch(/IMA ADPCM, which is not read: save it as plain WAV/);
  expect(readSoundFile(Uint8Array.from(Buffer.from('dear drummer')))).toBeUndefined();
});

test('whatever the bytes are, a file is read, or why not is said', () => {
  const whole = [aiff([wave(50)], 16), aiff([wave(50)], 32, 'fl32')];
  fc.assert(
    fc.property(
      fc.constantFrom(...whole),
      fc.array(fc.tuple(fc.nat(90), fc.nat(255)), { maxLength: 6 }),
      fc.nat(200),
      (file, flips, cut) => {
        const bytes = file.slice(0, file.length - cut);
        for (const [at, value] of flips) if (at < bytes.length) bytes[at] = value;
        const read = readSoundFile(bytes);
        if (typeof read === 'object') {
          for (const side of read.channels) expect(side.length).toBeLessThanOrEqual(bytes.length);
        }
      },
    ),
  );
});
