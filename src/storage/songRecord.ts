import { SONG_FORMAT } from '@/core/model';
import * as yup from 'yup';
import { checkSong, type Song } from '@/core';

/** A song that could be read, or a sentence that says why not and what became of it. */
export type ReadSong = { song: Song } | { problem: string };

const meter = yup
  .object({ beats: yup.number().required(), unit: yup.number().required() })
  .required();
const list = () => yup.array().required();

const hit = yup.object({
  id: yup.string().required(),
  at: yup.number().required(),
  push: yup.number().required(),
  velocity: yup.number().required(),
  articulation: yup.string().required(),
});

const span = yup.object({
  pieces: yup
    .mixed<'all' | string[]>(
      (value): value is 'all' | string[] => value === 'all' || Array.isArray(value),
    )
    .required(),
  from: yup.number().required(),
  to: yup.number().required(),
  pattern: yup.string().required(),
  offset: yup.number().required(),
  mode: yup.string().oneOf(['replace', 'add']).required(),
});

/**
 * The frame of a stored song: that every part is there and of its kind. What the parts must be to
 * each other is checked by `checkSong`; hits are checked there too, and only their first by Yup,
 * because a song can hold tens of thousands.
 */
const frame = yup
  .object({
    format: yup.number().oneOf([SONG_FORMAT]).required(),
    id: yup.string().required(),
    name: yup.string().defined(),
    tempo: list().of(yup.object({ at: yup.number().required(), bpm: yup.number().required() })),
    places: list().of(
      yup.object({
        id: yup.string().required(),
        section: yup.string().required(),
        overlay: list().of(span),
      }),
    ),
    sections: list().of(
      yup.object({
        id: yup.string().required(),
        name: yup.string().defined(),
        kind: yup.string().required(),
        meter,
        bars: yup.number().required(),
        spans: list().of(span),
      }),
    ),
    patterns: list().of(
      yup.object({
        id: yup.string().required(),
        name: yup.string().defined(),
        kind: yup.string().required(),
        meter,
        length: yup.number().required(),
        step: yup.number().required(),
        dye: yup.number().required(),
        strands: list().of(
          yup.object({
            piece: yup.string().required(),
            hits: list().test('hits', 'a hit is not one', (hits) =>
              (hits ?? []).every(
                (value, i) =>
                  typeof value === 'object' &&
                  value !== null &&
                  (i > 0 || hit.isValidSync(value, STRICT)),
              ),
            ),
          }),
        ),
      }),
    ),
  })
  .required();

const STRICT = { strict: true } as const;

const KEPT = 'It was left as it is and can be saved as a file.';

/** What each older form has to become the next one. */
const UPGRADES: Readonly<Record<number, (song: object) => object>> = {
  // Figures, cycles, swing and the view of rows came with form 2; form 1 has none of them.
  1: (song) => ({ ...song, format: 2 }),
  // Guides, offcuts, and what is noted of patterns came with form 3.
  2: (song) => ({ ...song, format: 3 }),
};

function upgraded(stored: unknown): unknown {
  let song = stored;
  for (;;) {
    const { format } = (song ?? {}) as { format?: unknown };
    const upgrade = typeof format === 'number' ? UPGRADES[format] : undefined;
    if (!upgrade) return song;
    song = upgrade(song as object);
  }
}

/** Checks what the database or a file holds before it becomes a song. */
export function readSong(read: unknown): ReadSong {
  const stored = upgraded(read);
  const format = (stored as { format?: unknown } | undefined)?.format;
  if (typeof format === 'number' && format > SONG_FORMAT) {
    return {
      problem: `This song was saved by a newer Verse Loom (form ${format}; this one reads form ${SONG_FORMAT}). Reload to get the newer one. ${KEPT}`,
    };
  }
  if (typeof format === 'number' && format < SONG_FORMAT) {
    return {
      problem: `This song was saved by an early trial of Verse Loom (form ${format}) that can no longer be read. ${KEPT}`,
    };
  }
  try {
    frame.validateSync(stored, STRICT);
  } catch (error) {
    const path = error instanceof yup.ValidationError ? error.path : undefined;
    return { problem: `This song is damaged${path ? ` at “${path}”` : ''}. ${KEPT}` };
  }
  const song = stored as Song;
  const problems = checkSong(song);
  if (problems.length > 0) {
    const [{ where, what }] = problems;
    return { problem: `This song is damaged at “${where}”: ${what} ${KEPT}` };
  }
  return { song };
}
