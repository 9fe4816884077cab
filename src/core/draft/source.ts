import {
  findPattern,
  type DraftWishes,
  type Kit,
  type Pattern,
  type Section,
  type Song,
} from '../model';
import { inMeter } from '../pattern';
import { chance } from '../random';
import { barTicks, meterName, PPQ, sameMeter, type Meter } from '../time';
import type { Range } from './dynamics';
import { familiesOnKit, hasPiece, onKit } from './onKit';
import { isCrash, poolFor, timekeeperOf, type DraftFamily, type Pool } from './pool';

/** The groove that a section starts from, and what its family offers besides. */
export interface Source {
  groove: Pattern;
  pool: Pool;
  range: Range;
  /** What was wished and could not be had, a sentence each. */
  says: string[];
}

/** How busy a groove each kind of section starts from, among those of its family: 0 the quietest, 1 the busiest. */
const GRADES: Readonly<Record<Section['kind'], number>> = {
  intro: 0.35,
  verse: 0.4,
  chorus: 0.6,
  bridge: 0.5,
  break: 0.3,
  solo: 0.65,
  outro: 0.45,
  part: 0.5,
};

/** What a draft takes its grooves from: families, and grooves of one's own by their ids in the library. */
export interface DraftLibrary {
  families: readonly DraftFamily[];
  grooves?: ReadonlyMap<string, Pattern>;
}

/**
 * The groove for a section in a meter. Of a family it is one that is as busy as the kind of section wants, by
 * chance; it does not depend on energy, which makes the same groove thinner or busier.
 * @param key names the section among those of its kind
 * @returns undefined where there is nothing to start from at all
 */
export function sourceFor(
  song: Pick<Song, 'patterns' | 'kit'>,
  library: DraftLibrary,
  wishes: DraftWishes,
  { kind, key, meter, seed }: { kind: Section['kind']; key: string; meter: Meter; seed: number },
): Source | undefined {
  const families = familiesOnKit(library.families, song.kit);
  const { feel } = wishes;
  const says: string[] = [];
  const named = feel.of === 'family' ? undefined : grooveNamed(song, library, wishes);
  if (feel.of !== 'family' && !named) {
    says.push(
      'The groove that the draft should be like is not there any more: its family is played.',
    );
  }
  const family = familyOf(families, wishes, named);
  const { pool, says: missing } = poolFor(families, family, meter);
  if (!named) {
    if (missing) says.push(missing);
    const groove = chosenGroove(pool, kind, `${key} ${meterName(meter)}`, seed, song.kit);
    if (!groove) return undefined;
    return { groove, pool, says, range: { density: pool.density, loudness: pool.loudness } };
  }
  const fits = sameMeter(named.meter, meter);
  if (!fits) says.push(`“${named.name}” is cut to ${meterName(meter)}.`);
  const groove = fits ? named : inMeter(named, meter, 'cut');
  const hits = groove.strands.flatMap((strand) => strand.hits);
  const own = (hits.length * PPQ) / groove.length;
  const mean = hits.reduce((sum, hit) => sum + hit.velocity, 0) / Math.max(1, hits.length);
  if (hits.length === 0) {
    says.push(`“${named.name}” is silent: its family is played.`);
    const instead = chosenGroove(pool, kind, key, seed, song.kit);
    if (!instead) return undefined;
    return {
      groove: instead,
      pool,
      says,
      range: { density: pool.density, loudness: pool.loudness },
    };
  }
  // In the middle it is as it came; it gets thinner and busier from there.
  const range: Range = {
    density: [0.58 * own, 1.42 * own],
    loudness: [Math.max(24, mean - 20), Math.min(112, mean + 18)],
  };
  return { groove, pool, says, range };
}

function chosenGroove(
  pool: Pool,
  kind: Section['kind'],
  key: string,
  seed: number,
  kit: Kit,
): Pattern | undefined {
  // Time on a crash is for what is loud.
  const quiet = pool.grooves.filter((groove) => !isCrash(timekeeperOf(groove, kit) ?? ''));
  const loud = kind === 'chorus' || kind === 'solo';
  const grooves = loud || quiet.length === 0 ? pool.grooves : quiet;
  if (grooves.length === 0) return undefined;
  const grade = GRADES[kind] + 0.36 * (chance(seed, 'groove', key) - 0.5);
  const at = Math.round(Math.max(0, Math.min(1, grade)) * (grooves.length - 1));
  return grooves[at];
}

/** The groove that is asked for by name, as it is played on the kit. */
function grooveNamed(
  { patterns, kit }: Pick<Song, 'patterns' | 'kit'>,
  { families, grooves }: DraftLibrary,
  { feel }: DraftWishes,
): Pattern | undefined {
  const found =
    feel.of === 'shelf'
      ? findPattern({ patterns } as Song, feel.pattern)
      : feel.of === 'groove'
        ? (grooves?.get(feel.groove.id) ??
          families.flatMap((family) => family.patterns).find(({ id }) => id === feel.groove.id))
        : undefined;
  return found && wholeBars(onKit(found, kit, hasPiece(kit, [])));
}

/** A pattern of whole bars: what is less than a bar is followed by silence. */
function wholeBars(pattern: Pattern): Pattern {
  const bar = barTicks(pattern.meter);
  return { ...pattern, length: Math.max(1, Math.ceil(pattern.length / bar - 1e-6)) * bar };
}

/** The family that goes with what is asked for: its own, or the one that is nearest in how much is played. */
function familyOf(
  families: readonly DraftFamily[],
  { feel }: DraftWishes,
  named: Pattern | undefined,
): string {
  if (feel.of === 'family') return feel.family;
  const own = feel.of === 'groove' ? feel.groove.family : undefined;
  if (own !== undefined && families.some(({ name }) => name === own)) return own;
  return named ? familyLike(families, named) : (families[0]?.name ?? '');
}

/** The family that has the groove most like a pattern: by which of their strokes fall on the same steps. */
export function familyLike(families: readonly DraftFamily[], pattern: Pattern): string {
  const known = pattern.groove?.family;
  if (known !== undefined && families.some(({ name }) => name === known)) return known;
  const struck = strikes(pattern);
  let best = { name: families[0]?.name ?? '', off: Infinity };
  for (const { name, patterns } of families) {
    for (const groove of patterns) {
      if (groove.kind !== 'groove' || !sameMeter(groove.meter, pattern.meter)) continue;
      const others = strikes(groove);
      let both = 0;
      for (const one of struck) if (others.has(one)) both++;
      const off = 1 - both / Math.max(1, struck.size + others.size - both);
      if (off < best.off) best = { name, off };
    }
  }
  return best.name;
}

function strikes(pattern: Pattern): Set<string> {
  const bar = barTicks(pattern.meter);
  return new Set(
    pattern.strands.flatMap(({ piece, hits }) =>
      hits.map(({ at }) => `${piece} ${Math.round((at % bar) / 80)}`),
    ),
  );
}
