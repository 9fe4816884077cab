import { pushOfMs } from '@/core/time';
import { pieceOf } from '@/core/model';
import { describedHits, type Description } from '@/core/pattern';
import { type Tool, number, choice, velocity, ms, rowOptions } from './tool';

/** Choosing hits by what they are. */
export const SELECT: readonly Tool[] = [
  {
    id: 'select-by',
    name: 'select by description …',
    group: 'select',
    letter: 'd',
    free: true,
    fields: ({ pattern }) => [
      choice('piece', 'piece', 'any', [['any', 'any'], ...rowOptions(pattern)]),
      choice('articulation', 'struck', 'any', [
        ['any', 'any way'],
        ...[
          ...new Map(
            pattern.strands.flatMap(({ piece }) =>
              pieceOf(piece).articulations.map((a) => [a.id, a.name] as const),
            ),
          ),
        ],
      ]),
      choice('beat', 'place', 'any', [
        ['any', 'anywhere'],
        ['on the beat', 'on the beat'],
        ['off-beat', 'off-beats'],
        ['between', 'between those'],
      ]),
      number('every', 'every n-th', 1, [1, 16]),
      velocity('low', 'velocity from', 1),
      velocity('high', 'velocity to', 127),
      ms('off', 'off by more than', 0, [0, 120]),
      choice('figures', 'only', 'any', [
        ['any', 'any hit'],
        ['ghosts', 'ghosts'],
        ['bursts', 'bursts'],
        ['flams', 'flams and drags'],
        ['cycles', 'hits with a cycle'],
      ]),
    ],
    commands: () => [],
    select(values, { pattern, bpm }) {
      const some = (id: string) => (values.text(id) === 'any' ? undefined : values.text(id));
      const piece = some('piece');
      const off = values.number('off');
      return describedHits(pattern, {
        ...(piece && { pieces: [piece] }),
        articulation: some('articulation'),
        beat: some('beat') as Description['beat'],
        every: values.number('every'),
        velocity: [values.number('low'), values.number('high')],
        ...(off > 0 && { offBy: pushOfMs(off, bpm) }),
        figures: some('figures') as Description['figures'],
      });
    },
  },
];
