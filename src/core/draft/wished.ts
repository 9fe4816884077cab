import {
  findSection,
  USUAL_WISHES,
  WISH_LIMITS,
  type DraftWishes,
  type Rollable,
  type Section,
  type Song,
} from '../model';

/** What is asked of a draft in a section: what is not said of it is as for the song. */
export function wishesFor(
  song: Pick<Song, 'draft'>,
  section?: Pick<Section, 'wishes'>,
): DraftWishes {
  const all = song.draft ?? USUAL_WISHES;
  const { wishes } = section ?? {};
  if (!wishes) return all;
  // A section that was rolled by itself is not rolled by parts of the song.
  const rolls = wishes.seed === undefined ? { ...all.rolls, ...wishes.rolls } : wishes.rolls;
  return { ...all, ...wishes, rolls };
}

/** A seed for a part: its own where it was rolled by itself. */
export const seedOf = ({ seed, rolls }: DraftWishes, part: Rollable): number =>
  rolls?.[part] ?? seed;

/** Asks something of a draft, of the song or of one section; what is undefined is asked no more. */
export function askOfDraft(song: Song, of: string | undefined, wishes: Partial<DraftWishes>): Song {
  if (of === undefined) {
    const draft = { ...(song.draft ?? USUAL_WISHES), ...withoutGaps(wishes) };
    for (const name of gapsOf(wishes))
      if (name === 'highTime' || name === 'rolls') delete draft[name];
    return same(draft, song.draft ?? USUAL_WISHES) ? song : { ...song, draft };
  }
  const section = findSection(song, of);
  if (!section) return song;
  const asked: Partial<DraftWishes> = { ...section.wishes, ...withoutGaps(wishes) };
  for (const name of gapsOf(wishes)) delete asked[name];
  if (same(asked, section.wishes ?? {})) return song;
  const { wishes: _, ...rest } = section;
  const after = Object.keys(asked).length > 0 ? { ...rest, wishes: asked } : rest;
  return { ...song, sections: song.sections.map((one) => (one === section ? after : one)) };
}

const gapsOf = (wishes: Partial<DraftWishes>) =>
  (Object.keys(wishes) as (keyof DraftWishes)[]).filter((name) => wishes[name] === undefined);

const withoutGaps = (wishes: Partial<DraftWishes>): Partial<DraftWishes> =>
  Object.fromEntries(Object.entries(wishes).filter(([, wish]) => wish !== undefined));

const same = (a: object, b: object) => JSON.stringify(a) === JSON.stringify(b);

/** The seed after another one: every choice that goes by the seed in turn is another one with it. */
const nextSeed = (seed: number) => (seed + 1) % (WISH_LIMITS.seed[1] + 1);

/**
 * Rolls a draft, or a part of it: a new seed for all of it, or for its fills, its turns or one piece.
 * @param of a section; absent is the song, and what sections were rolled to by themselves is rolled anew too
 */
export function rollDraft(song: Song, of: string | undefined, part?: Rollable): Song {
  const section = of === undefined ? undefined : findSection(song, of);
  if (of !== undefined && !section) return song;
  const { seed, rolls } = wishesFor(song, section);
  const wishes: Partial<DraftWishes> =
    part === undefined
      ? { seed: nextSeed(seed), rolls: undefined }
      : { rolls: { ...rolls, [part]: nextSeed(rolls?.[part] ?? seed) } };
  const rolled = askOfDraft(song, of, wishes);
  if (of !== undefined || part !== undefined) return rolled;
  return {
    ...rolled,
    sections: rolled.sections.map((one) => {
      if (!one.wishes || one.locked) return one;
      const { seed: _seed, rolls: _rolls, ...rest } = one.wishes;
      const { wishes: _wishes, ...bare } = one;
      return Object.keys(rest).length > 0 ? { ...bare, wishes: rest } : bare;
    }),
  };
}
