import type { Bytes } from '../fonts';

/** SoundFont 2 files that tests read. */
const RATE = 48_000;

export type Zone = {
  key?: [number, number];
  velocity?: [number, number];
  /** Absent in a zone that is for all others. */
  sample?: number;
  more?: [number, number][];
};

export const latin = (text: string, length: number) =>
  Array.from({ length }, (_, i) => (i < text.length ? text.charCodeAt(i) : 0));
const word = (value: number) => [value & 255, (value >> 8) & 255];
export const long = (value: number) => [...word(value & 0xffff), ...word(value >>> 16)];
export const chunk = (id: string, body: number[]): number[] => [
  ...latin(id, 4),
  ...long(body.length),
  ...body,
  ...(body.length % 2 ? [0] : []),
];

/** A file of one drum kit, by the specification: samples, zones of one instrument, one preset. */
export function fontOf(
  samples: { data: number[]; rate?: number; pitch?: number; type?: number }[],
  zones: Zone[],
  bank = 128,
): Uint8Array {
  const data = samples.flatMap((one) => [...one.data, ...new Array<number>(46).fill(0)]);
  let at = 0;
  const headers = samples.flatMap(({ data: own, rate = RATE, pitch = 60, type = 1 }, i) => {
    const start = at;
    at += own.length + 46;
    const end = start + own.length;
    return [
      ...latin(`shed ${i}`, 20),
      ...long(start),
      ...long(end),
      ...long(start),
      ...long(end),
      ...long(rate),
      pitch,
      0,
      ...word(0),
      ...word(type),
    ];
  });
  const generators = zones.map(({ key, velocity, sample, more = [] }) => [
    ...(key ? [[...word(43), ...key]] : []),
    ...(velocity ? [[...word(44), ...velocity]] : []),
    ...more.map(([id, value]) => [...word(id), ...word(value & 0xffff)]),
    ...(sample === undefined ? [] : [[...word(53), ...word(sample)]]),
  ]);
  let place = 0;
  const bags = generators.flatMap((list) => {
    const row = [...word(place), ...word(0)];
    place += list.length;
    return row;
  });
  const phdr = (name: string, preset: number, of: number, bag: number) => [
    ...latin(name, 20),
    ...word(preset),
    ...word(of),
    ...word(bag),
    ...long(0),
    ...long(0),
    ...long(0),
  ];
  const pdta = [
    ...chunk('phdr', [...phdr('Shed kit', 0, bank, 0), ...phdr('EOP', 0, 0, 1)]),
    ...chunk('pbag', [...word(0), ...word(0), ...word(1), ...word(0)]),
    ...chunk('pmod', new Array<number>(10).fill(0)),
    ...chunk('pgen', [...word(41), ...word(0), ...long(0)]),
    ...chunk('inst', [
      ...latin('Shed', 20),
      ...word(0),
      ...latin('EOI', 20),
      ...word(generators.length),
    ]),
    ...chunk('ibag', [...bags, ...word(place), ...word(0)]),
    ...chunk('imod', new Array<number>(10).fill(0)),
    ...chunk('igen', [...generators.flat(2), ...long(0)]),
    ...chunk('shdr', [...headers, ...latin('EOS', 20), ...new Array<number>(26).fill(0)]),
  ];
  const info = [...chunk('ifil', [...word(2), ...word(4)]), ...chunk('INAM', latin('Shed', 4))];
  const body = [
    ...latin('sfbk', 4),
    ...chunk('LIST', [...latin('INFO', 4), ...info]),
    ...chunk('LIST', [
      ...latin('sdta', 4),
      ...chunk(
        'smpl',
        data.flatMap((x) => word(x & 0xffff)),
      ),
    ]),
    ...chunk('LIST', [...latin('pdta', 4), ...pdta]),
  ];
  return Uint8Array.from([...latin('RIFF', 4), ...long(body.length), ...body]);
}

/** A file in memory, as it is read. */
export const fontBytes = (bytes: Uint8Array): Bytes => ({
  size: bytes.length,
  read: async (from, to) => bytes.subarray(from, to),
});
