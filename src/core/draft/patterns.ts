import { nextDye, type Drafted, type DraftReason, type Pattern, type Song } from '../model';
import { barTicks, DEFAULT_STEP, type Ticks } from '../time';
import { marksOf, touchedBars } from './marks';
import type { Reasoned } from './phrases';
import { patternFrom, type Written } from './written';

/** The patterns of a song while it is drafted. */
export class DraftPatterns {
  /** Patterns of the song by id, with what was drafted until now. */
  private readonly patterns: Map<string, Pattern>;
  /** Dyes by what a pattern was made from. */
  private readonly dyes = new Map<string, number>();
  /** What was drafted now, by its ids. */
  readonly laid = new Set<string>();

  constructor(private readonly song: Song) {
    this.patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
    for (const { drafted, dye } of song.patterns) if (drafted) this.dyes.set(drafted.source, dye);
  }

  /** Writes a pattern, but for the bars of it that were changed by hand. @returns its id */
  write(
    id: string,
    head: Pick<Pattern, 'name' | 'kind' | 'meter' | 'length'> &
      Pick<Partial<Pattern>, 'local' | 'groove'>,
    strokes: readonly Reasoned[],
    drafted: Pick<Drafted, 'as' | 'seed' | 'source' | 'says' | 'turns'>,
  ): string {
    const there = this.patterns.get(id);
    let free = id;
    // Something of another origin may bear the name. What one place plays is made anew where a hand is on the other.
    const taken = (other: Pattern | undefined) =>
      other !== undefined &&
      (!other.drafted || (drafted.as !== 'groove' && isAnother(other, head) && isKept(other)));
    for (let n = 2; taken(this.patterns.get(free)); n++) free = `${id}-${n}`;
    const before = free === id ? there : this.patterns.get(free);
    this.laid.add(free);
    const touched = before && touchedBars(before);
    const reshaped = before !== undefined && isAnother(before, head);
    const held =
      before && (before.locked || touched === undefined || (reshaped && touched.size > 0));
    if (held) return free;
    const bar = barTicks(head.meter);
    const kept = (at: Ticks) => touched?.has(Math.floor(at / bar)) ?? false;
    const fresh = strokes.filter(({ at }) => !kept(at));
    const byHand = (before?.strands ?? []).flatMap(({ piece, hits }) =>
      hits.flatMap((hit): Written[] =>
        kept(hit.at) ? [{ piece, at: hit.at, hit, id: hit.id }] : [],
      ),
    );
    const { notes, stars, tags } = before ?? {};
    const pattern = patternFrom(
      {
        ...(notes && { notes }),
        ...(stars && { stars }),
        ...(tags && { tags }),
        id: free,
        ...head,
        // What was given a name by hand keeps it.
        ...(before && !reshaped && { name: before.name }),
        step: DEFAULT_STEP,
        dye: this.dyeOf(drafted.source),
      },
      [...byHand, ...fresh],
      this.song.kit,
    );
    const here = new Set(pattern.strands.flatMap(({ hits }) => hits.map((hit) => hit.id)));
    const reasons = reasonsOf(
      fresh.filter(({ id }) => here.has(id)),
      byHand,
      before?.drafted,
    );
    const marks = marksOf(pattern);
    const bars = marks.map((mark, n) =>
      touched?.has(n) ? (before?.drafted?.bars[n] ?? mark) : mark,
    );
    const whole: Pattern = { ...pattern, drafted: { ...drafted, bars, whys: reasons } };
    this.patterns.set(free, whole);
    return free;
  }

  private dyeOf(source: string): number {
    let dye = this.dyes.get(source);
    if (dye === undefined) {
      dye = nextDye({ patterns: [...this.patterns.values()] });
      this.dyes.set(source, dye);
    }
    return dye;
  }

  /** Every pattern as it is by now. */
  all(): Pattern[] {
    return [...this.patterns.values()];
  }

  /** A song without the patterns of the draft that nothing plays any more and no hand touched. */
  tidied(song: Song): Song {
    const spansOf = ({ sections, places }: Song) =>
      new Set(
        [
          ...sections.flatMap(({ spans }) => spans),
          ...places.flatMap(({ overlay }) => overlay),
        ].map(({ pattern }) => pattern),
      );
    const played = spansOf(song);
    const wasPlayed = spansOf(this.song);
    const before = new Set(this.song.patterns.map(({ id }) => id));
    const patterns = song.patterns.filter((pattern) => {
      if (played.has(pattern.id) || !pattern.drafted) return true;
      if (!before.has(pattern.id)) return false;
      // Its place or section went for another reason: it is the user's to remove.
      if (!wasPlayed.has(pattern.id) || pattern.locked) return true;
      return touchedBars(pattern)?.size !== 0;
    });
    return { ...song, patterns };
  }

  /** The song with the very patterns it had, where they came out the same. */
  asBefore(drafted: Song): Song {
    const song = this.tidied(drafted);
    const before = new Map(this.song.patterns.map((pattern) => [pattern.id, pattern]));
    const patterns = song.patterns.map((pattern) => {
      const known = before.get(pattern.id);
      return known && pattern !== known && samePattern(known, pattern) ? known : pattern;
    });
    const same =
      patterns.length === this.song.patterns.length &&
      patterns.every((pattern, i) => pattern === this.song.patterns[i]);
    return { ...song, patterns: same ? this.song.patterns : patterns };
  }
}

/** Whether a pattern has other bars. */
const isAnother = (pattern: Pattern, head: Pick<Pattern, 'length' | 'meter'>) =>
  pattern.length !== head.length || barTicks(pattern.meter) !== barTicks(head.meter);

/** Whether a drafted pattern is not the draft's to change, all of it or some bars. */
const isKept = (pattern: Pattern) => pattern.locked === true || touchedBars(pattern)?.size !== 0;

/** Why each stroke is there: those that were drafted now, and those of bars that a hand keeps. */
function reasonsOf(
  fresh: readonly Reasoned[],
  byHand: readonly Written[],
  before: Drafted | undefined,
): DraftReason[] {
  const whys = new Map<string, string[]>();
  const add = (says: string, hit: string) =>
    (whys.get(says) ?? whys.set(says, []).get(says)!).push(hit);
  for (const { says, id } of fresh) add(says, id);
  const kept = new Set(byHand.map(({ id }) => id));
  for (const { says, hits } of before?.whys ?? []) {
    for (const hit of hits) if (kept.has(hit)) add(says, hit);
  }
  return [...whys].map(([says, hits]) => ({ says, hits }));
}

/** Whether two drafted patterns are the same in all that is kept of them. */
function samePattern(a: Pattern, b: Pattern): boolean {
  return (
    a.name === b.name &&
    a.kind === b.kind &&
    a.length === b.length &&
    a.dye === b.dye &&
    a.meter.beats === b.meter.beats &&
    a.meter.unit === b.meter.unit &&
    JSON.stringify(a.strands) === JSON.stringify(b.strands) &&
    JSON.stringify(a.drafted) === JSON.stringify(b.drafted)
  );
}
