import {
  anchored,
  findPattern,
  placeOfSpan,
  spanOver,
  type Kit,
  type PieceId,
  type Section,
  type Song,
  type Span,
} from '../model';
import { onsetsBetween, placedGuides } from '../guide';
import { barTicks, pulseTicks, type Ticks } from '../time';
import { laidPlaces, placeName, sectionTicks, tempoOfSong, type LaidPlace } from '../weave';
import type { DraftStroke } from './bar';
import { energyOf, linesBySection, meanLevel } from './energy';
import { crashOf, joinOf, type LastBar } from './joins';
import { mended } from './mended';
import { DraftPatterns } from './patterns';
import {
  barsToDraft,
  reasoned,
  phrasesOf,
  strokesOf,
  type DraftBar,
  type DraftedSection,
  type GuideReader,
  type Phrase,
  type SongMeans,
} from './phrases';
import { keepsTime } from './pool';
import type { DraftLibrary } from './source';
import { signOf } from './turn';
import { wishesFor } from './wished';

/** What a draft makes of a song. */
export interface DraftOf {
  /** The very same song where nothing is to change. */
  song: Song;
  /** What was wished and could not be had, a sentence each. */
  says: string[];
}

/** Names of the spans a draft lays begin with this. */
const SPAN = 'draft-';

/** The name that patterns of a section or place begin with where they were drafted for it. */
const ownName = (owner: string) => `${SPAN}${owner.slice(0, 120)}:`;

/** Whether a span was laid by a draft, and still plays what was drafted for its section or place. */
const isOfDraft = (song: Song, span: Span, owner: string) =>
  span.id.startsWith(SPAN) &&
  span.pattern.startsWith(ownName(owner)) &&
  findPattern(song, span.pattern)?.drafted !== undefined;

/** What draws over another change where a place is played otherwise than its section. */
const OTHERWISE = 0.06;

/**
 * Drafts a song: fills its sections with patterns of its wishes, its form and its line of energy. Sections and
 * places that are locked, that play something of one's own, and bars that were changed by hand stay as they are. The
 * same song, library and seed give the same draft on every machine.
 * @param sections only these are drafted; absent is all
 */
export function draftSong(
  song: Song,
  library: DraftLibrary,
  sections?: ReadonlySet<string>,
): DraftOf {
  if (song.locked) return { song, says: [] };
  const says = new Set<string>();
  const work = new Drafting(song, library, says);
  const drafted = work.run(sections);
  return { song: drafted, says: [...says] };
}

/** Why a section is not drafted; undefined where it is. */
export function heldSection(song: Song, section: Section): 'locked' | 'taken' | undefined {
  const places = song.places.filter((place) => place.section === section.id);
  if (song.locked || section.locked || places.some((place) => place.locked)) return 'locked';
  const length = sectionTicks(section);
  // What plays the whole kit, over all of it, and comes from elsewhere.
  const own = section.spans
    .filter(
      (span) =>
        !isOfDraft(song, span, section.id) && span.pieces === 'all' && span.mode === 'replace',
    )
    .flatMap((span) => placeOfSpan(span, length) ?? [])
    .sort((a, b) => a.from - b.from);
  let covered = 0;
  for (const { from, to } of own) if (from <= covered) covered = Math.max(covered, to);
  return covered >= length ? 'taken' : undefined;
}

/** What is known of a section while a song is drafted. */
interface Drawn extends DraftedSection {
  bars: DraftBar[];
  phrases: Phrase[];
  rolled: ReadonlyMap<PieceId, readonly DraftBar[]>;
}

class Drafting {
  private readonly kit: Kit;
  private readonly patterns: DraftPatterns;
  private readonly means: SongMeans;

  constructor(
    private readonly song: Song,
    library: DraftLibrary,
    private readonly says: Set<string>,
  ) {
    this.kit = song.kit;
    this.patterns = new DraftPatterns(song);
    this.means = { song, library, guide: guideReader(song) };
  }

  run(wanted: ReadonlySet<string> | undefined): Song {
    const drawn = this.sections(wanted);
    const sections = this.song.sections.map((section) => {
      const one = drawn.get(section.id);
      return one ? this.withPhrases(section, one) : section;
    });
    const places = this.places(drawn);
    const patterns = this.patterns.listed(sections, places);
    const before = this.song;
    const after: Song = {
      ...before,
      patterns,
      sections: sections.every((section, i) => section === before.sections[i])
        ? before.sections
        : sections,
      places: places.every((place, i) => place === before.places[i]) ? before.places : places,
    };
    const done = this.patterns.asBefore(mended(after, this.patterns.laid));
    const unchanged =
      done.patterns === before.patterns &&
      done.sections === before.sections &&
      done.places === before.places;
    return unchanged ? before : done;
  }

  /** The sections that are drafted, each with its phrases. */
  private sections(wanted: ReadonlySet<string> | undefined): Map<string, Drawn> {
    const drawn = new Map<string, Drawn>();
    const times = new Map<string, number>();
    const tempo = tempoOfSong(this.song);
    for (const [id, places] of linesBySection(this.song)) {
      const { section } = places[0];
      const nth = (times.get(section.kind) ?? 0) + 1;
      times.set(section.kind, nth);
      if ((wanted && !wanted.has(id)) || heldSection(this.song, section)) continue;
      const wishes = wishesFor(this.song, section);
      const head: DraftedSection = {
        section,
        key: `${section.kind} ${nth}`,
        places: places.map(({ laid, line }) => ({ laid, line })),
        wishes,
        bpm: tempo.bpmAt(places[0].laid.start),
      };
      const bars = barsToDraft(head, this.means, this.says);
      const rolled = this.rolledBars(head);
      drawn.set(id, { ...head, bars, rolled, phrases: phrasesOf(bars, head, rolled) });
    }
    return drawn;
  }

  /** For each piece that was rolled by itself, the bars as they fell then. */
  private rolledBars(head: DraftedSection): Map<PieceId, DraftBar[]> {
    const rolled = new Map<PieceId, DraftBar[]>();
    for (const [piece, seed] of Object.entries(head.wishes.rolls ?? {})) {
      if (piece === 'fills' || piece === 'turns') continue;
      const { rolls: _, ...wishes } = head.wishes;
      rolled.set(
        piece,
        barsToDraft({ ...head, wishes: { ...wishes, seed } }, this.means, new Set()),
      );
    }
    return rolled;
  }

  private withPhrases(section: Section, drawn: Drawn): Section {
    const length = sectionTicks(section);
    const ids = new Map<Phrase, string>();
    const spans = drawn.phrases.map((phrase, i): Span => {
      const of = phrase.as ?? phrase;
      let id = ids.get(of);
      if (id === undefined) {
        // A section that was given a copy of its own keeps it.
        const known = section.spans.find((span) => span.id === `${SPAN}${i + 1}`);
        const own = known && isOfDraft(this.song, known, section.id) && known.pattern;
        id = this.patternOf(phrase, drawn, own || `${ownName(section.id)}${i + 1}`);
        ids.set(of, id);
      }
      return spanOver(id, `${SPAN}${i + 1}`, anchored(phrase.from, phrase.to, length));
    });
    const own = section.spans.filter((span) => !isOfDraft(this.song, span, section.id));
    return sameSpans([...spans, ...own], section.spans)
      ? section
      : { ...section, spans: [...spans, ...own] };
  }

  private patternOf(phrase: Phrase, { section, wishes, bars }: Drawn, id: string): string {
    const { source, meter } = phrase.bars[0];
    const whole = phrase.bars.length === bars.length;
    const first = phrase.bars[0].bar + 1;
    const last = phrase.bars.at(-1)!.bar + 1;
    const says = `${source.groove.name}, at ${inPercent(phrase.bars)} energy`;
    return this.patterns.write(
      id,
      {
        name: whole
          ? section.name
          : `${section.name}, ${first === last ? `bar ${first}` : `bars ${first} to ${last}`}`,
        kind: 'groove',
        meter,
        length: barTicks(meter) * phrase.bars.length,
        ...(source.groove.groove && { groove: source.groove.groove }),
      },
      phrase.strokes.flatMap((strokes, n) => reasoned(strokes, n, n * barTicks(meter))),
      { as: 'groove', seed: wishes.seed, source: source.groove.name, says, turns: phrase.turns },
    );
  }

  /** What each place is played with besides its section. */
  private places(drawn: ReadonlyMap<string, Drawn>): Song['places'] {
    const lines = energyOf(this.song);
    const laidAll = laidPlaces(this.song);
    // A line that rises all the way through a place has risen when the next one begins.
    const half = (i: number, end: boolean) => {
      const { start, end: to } = laidAll[i];
      const middle = (to - start) / 2;
      return end
        ? meanLevel(lines[i].points, middle, to - start)
        : meanLevel(lines[i].points, 0, middle);
    };
    let before = '';
    const next = new Map<string, Song['places'][number]>();
    laidAll.forEach((laid, i) => {
      const one = drawn.get(laid.section.id);
      if (!one || one.bars.length === 0) {
        before = '';
        return;
      }
      const following = laidAll[i + 1];
      const nextDrawn = following && drawn.get(following.section.id);
      const spans = this.overPlace(one, laid, {
        line: lines[i].points,
        into: i > 0 ? half(i, false) - half(i - 1, true) : 0,
        first: i === 0,
        energy: half(i, true),
        begins: half(i, false),
        ...(following && {
          next: { energy: half(i + 1, false), name: placeName(this.song, following) },
        }),
        unlike: [lastTurnOf(one) || before, nextDrawn ? firstTurnOf(nextDrawn) : ''],
        told: (sign) => (before = sign),
      });
      next.set(laid.place.id, this.laidOver(laid, spans));
    });
    return this.song.places.map((place) => next.get(place.id) ?? place);
  }

  private overPlace(
    one: Drawn,
    laid: LaidPlace,
    of: {
      line: DraftedSection['places'][number]['line']['points'];
      into: number;
      first: boolean;
      energy: number;
      begins: number;
      next?: { energy: number; name: string };
      unlike: string[];
      told: (sign: string) => void;
    },
  ): Span[] {
    const { wishes, phrases, bars } = one;
    const length = laid.end - laid.start;
    const spans: Span[] = [];
    const nth = one.places.findIndex(({ laid: { place } }) => place.id === laid.place.id) + 1;
    const key = `${one.key}/${nth}`;
    const name = placeName(this.song, laid);
    const own = laid.place.overlay.filter((span) => !this.isLaidOver(laid, span));
    const takenFrom = (from: Ticks, to: Ticks) =>
      [...laid.section.spans, ...own].some((span) => {
        if (this.isLaidOver(laid, span) || span.mode !== 'replace') return false;
        const lies = placeOfSpan(span, length);
        return lies !== undefined && lies.from < to && lies.to > from && span.pieces === 'all';
      });
    const id = (what: string) => `${ownName(laid.place.id)}${what}`;

    // Where energy is another one than in the middle of all its places, the time is.
    let firstBar = phrases[0].strokes[0];
    let lastBar = phrases.at(-1)!.strokes.at(-1)!;
    const energies = bars.map(({ start, meter }) =>
      meanLevel(of.line, start, start + barTicks(meter)),
    );
    const off = mean(energies.map((level, i) => level - bars[i].energy));
    if (one.places.length > 1 && Math.abs(off) > OTHERWISE) {
      phrases.forEach((phrase, n) => {
        const { meter } = phrase.bars[0];
        const played = phrase.bars.map((bar, i) => {
          const rolled = new Map(
            [...one.rolled].flatMap(([piece, list]) => {
              const there = list.find((other) => other.bar === bar.bar);
              return there ? [[piece, there] as const] : [];
            }),
          );
          const strokes = strokesOf(bar, energies[bars.indexOf(bar)], rolled);
          const turn = phrase.turns.includes(i);
          // A turn stays as it is.
          return (turn ? phrase.strokes[i] : strokes).filter((stroke) => this.isTime(stroke));
        });
        const base = phrase.strokes.flat().filter((stroke) => this.isTime(stroke));
        const pieces = [...new Set([...base, ...played.flat()].map(({ piece }) => piece))];
        if (pieces.length === 0) return;
        const says = `the time is ${off > 0 ? 'busier and louder' : 'thinner and softer'}: energy is ${off > 0 ? 'above' : 'below'} the other places of “${laid.section.name}”`;
        const pattern = this.patterns.write(
          id(`time-${n + 1}`),
          {
            name: `${name}, time`,
            kind: 'groove',
            meter,
            length: barTicks(meter) * phrase.bars.length,
            local: true,
          },
          played.flatMap((strokes, bar) => reasoned(strokes, bar, bar * barTicks(meter))),
          {
            as: 'change',
            seed: wishes.seed,
            source: phrase.bars[0].source.groove.name,
            says,
            turns: [],
          },
        );
        spans.push(
          spanOver(pattern, `${SPAN}time-${n + 1}`, {
            role: 'change',
            ...anchored(phrase.from, phrase.to, length),
            pieces,
          }),
        );
        if (n === 0) firstBar = played[0];
        if (n === phrases.length - 1) {
          const rest = lastBar.filter((stroke) => !this.isTime(stroke));
          lastBar = [...rest, ...played.at(-1)!].sort((a, b) => a.at - b.at);
        }
      });
    }

    // The hand that crashes leaves the time for one stroke; what the time plays in that beat goes on.
    const beat = Math.min(pulseTicks(bars[0].meter), length);
    const time = firstBar.filter((stroke) => this.isTime(stroke) && stroke.at < beat);
    const crash = crashOf(this.kit, wishes, {
      change: of.into,
      first: of.first,
      energy: of.begins,
      name,
      time,
    });
    if (crash && !takenFrom(0, 1)) {
      const { meter } = bars[0];
      const pattern = this.patterns.write(
        id('crash'),
        { name: `Crash into ${name}`, kind: 'groove', meter, length: beat, local: true },
        reasoned(crash.strokes, 0, 0),
        { as: 'change', seed: wishes.seed, source: 'crash', says: crash.says, turns: [] },
      );
      spans.push(
        spanOver(pattern, `${SPAN}crash`, {
          role: 'change',
          ...anchored(0, beat, length),
          pieces: crash.pieces,
        }),
      );
    }

    const last: LastBar = {
      bar: bars.at(-1)!,
      strokes: lastBar,
      energy: of.energy,
      ...(of.next && { next: of.next }),
      key,
      bars: laid.section.bars,
      unlike: of.unlike,
    };
    const whole = barTicks(last.bar.meter);
    if (!takenFrom(length - whole, length)) {
      const join = joinOf(last, wishes, this.says);
      if (join) {
        of.told(join.sign);
        const pattern = this.patterns.write(
          id('join'),
          {
            name: join.as === 'fill' ? `${name}, fill` : `${name}, turn`,
            kind: join.as === 'fill' ? 'fill' : 'groove',
            meter: last.bar.meter,
            length: join.length,
            ...(join.as === 'change' && { local: true as const }),
          },
          reasoned(join.strokes, 0, 0),
          {
            as: join.as,
            seed: wishes.seed,
            source: join.as === 'fill' ? 'fills' : 'turns',
            says: join.says,
            turns: [],
          },
        );
        spans.push(
          spanOver(pattern, `${SPAN}join`, {
            role: join.as,
            ...anchored(length - join.length, length, length),
            ...(join.length < length && { anchor: 'end' as const, from: -join.length, to: 0 }),
            pieces: join.pieces,
          }),
        );
      } else of.told(signOf(lastBar));
    }
    return spans;
  }

  /** Whether a draft laid a span in the section of a place, or over it. */
  private isLaidOver({ place, section }: LaidPlace, span: Span): boolean {
    return isOfDraft(this.song, span, section.id) || isOfDraft(this.song, span, place.id);
  }

  private isTime({ piece, hit, time }: DraftStroke): boolean {
    return time === true || keepsTime(piece, hit.articulation, this.kit);
  }

  /** The place with what the draft lays over it; what was taken out by hand stays out. */
  private laidOver({ place }: LaidPlace, spans: readonly Span[]): Song['places'][number] {
    const there = new Set(place.overlay.map(({ id }) => id));
    const gone = new Set((place.drafted ?? []).filter((id) => !there.has(id)));
    const laid = spans.filter(({ id }) => !gone.has(id));
    const own = place.overlay.filter((span) => !isOfDraft(this.song, span, place.id));
    const overlay = [...laid, ...own];
    const drafted = [...laid.map(({ id }) => id), ...gone];
    if (sameSpans(overlay, place.overlay) && drafted.join() === (place.drafted ?? []).join()) {
      return place;
    }
    return { ...place, overlay, drafted };
  }
}

function guideReader(song: Song): GuideReader {
  const guides = placedGuides(song).filter(({ guide }) => !guide.muted);
  const last = laidPlaces(song).at(-1)?.end ?? 0;
  const all = guides.length > 0 ? onsetsBetween(guides, 0, last + 1) : [];
  const said = guides[0]?.guide.name.trim() ?? '';
  const name = /bass/i.test(said) ? 'bass' : said === '' ? 'guide' : `guide “${said}”`;
  return (from, to) => {
    let low = 0;
    let high = all.length;
    // A note that is a hair early belongs to the bar it leads into.
    const early = 60;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (all[middle] < from - early) low = middle + 1;
      else high = middle;
    }
    const onsets: Ticks[] = [];
    for (let i = low; i < all.length && all[i] < to - early; i++) {
      onsets.push(Math.max(0, all[i] - from));
    }
    return { name, onsets };
  };
}

const mean = (numbers: readonly number[]) =>
  numbers.reduce((sum, one) => sum + one, 0) / Math.max(1, numbers.length);

const inPercent = (bars: readonly DraftBar[]) =>
  `${Math.round(100 * mean(bars.map(({ energy }) => energy)))} %`;

const lastTurnOf = ({ phrases }: Drawn): string => {
  for (const { turns, strokes } of [...phrases].reverse()) {
    const turn = turns.at(-1);
    if (turn !== undefined) return signOf(strokes[turn]);
  }
  return '';
};

const firstTurnOf = ({ phrases }: Drawn): string => {
  for (const { turns, strokes } of phrases) if (turns.length > 0) return signOf(strokes[turns[0]]);
  return '';
};

const sameSpans = (a: readonly Span[], b: readonly Span[]) =>
  a.length === b.length &&
  a.every((span, i) => span === b[i] || JSON.stringify(span) === JSON.stringify(b[i]));
