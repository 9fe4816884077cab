import {
  anchored,
  findPattern,
  placeOfSpan,
  spanOver,
  type PieceId,
  type Section,
  type Song,
  type Span,
} from '../model';
import { barTicks, pulseTicks, type Ticks } from '../time';
import {
  barLinesOf,
  laidPlaces,
  placeName,
  sectionTicks,
  tempoOfSong,
  type LaidPlace,
} from '../weave';
import { energyOf, linesBySection, meanLevel } from './energy';
import { STEPS } from './dynamics';
import { crashOf, joinOf, type LastBar } from './joins';
import { FillBook } from './fillBook';
import { asHeld } from './held';
import { touchedBars } from './marks';
import { isOfDraft, ownName, SPAN } from './names';
import { heldBars, heldSection } from './report';
import { differing } from './differing';
import { guideReader } from './guideReader';
import { mended } from './mended';
import { DraftPatterns } from './patterns';
import {
  barsToDraft,
  playedAs,
  reasoned,
  phrasesOf,
  type DraftBar,
  type DraftedSection,
  type Phrase,
  type SongMeans,
} from './phrases';
import type { DraftLibrary } from './source';
import { signOf } from './turn';
import { seedOf, wishesFor } from './wished';

/** What a draft makes of a song. */
export interface DraftOf {
  /** The very same song where nothing is to change. */
  song: Song;
  /** What was wished and could not be had, a sentence each. */
  says: string[];
}

/**
 * Drafts a song: fills its sections with patterns of its wishes, its form and its line of energy. Sections and
 * places that are locked, that play something of one's own, and bars that were changed by hand stay as they are, note
 * for note: those of which `reportOf` says so. The same song, library and seed give the same draft on every machine.
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

/** What is known of a section while a song is drafted. */
interface Drawn extends DraftedSection {
  /** The phrases that the section plays: those of one of its places. */
  phrases: readonly Phrase[];
  /** By the ids of places. */
  byPlace: ReadonlyMap<string, readonly Phrase[]>;
}

class Drafting {
  private readonly patterns: DraftPatterns;
  private readonly means: SongMeans;
  private readonly fills = new FillBook();
  private readonly laid: readonly LaidPlace[];
  private readonly held: readonly (readonly number[])[];

  constructor(
    private readonly song: Song,
    library: DraftLibrary,
    private readonly says: Set<string>,
  ) {
    this.patterns = new DraftPatterns(song);
    this.means = { song, library, guide: guideReader(song) };
    this.laid = laidPlaces(song);
    this.held = heldBars(song);
  }

  run(wanted: ReadonlySet<string> | undefined): Song {
    const drawn = this.sections(wanted);
    const sections = this.song.sections.map((section) => {
      const one = drawn.get(section.id);
      return one ? this.withPhrases(section, one) : section;
    });
    const places = this.places(drawn);
    const before = this.song;
    const after: Song = {
      ...before,
      patterns: this.patterns.all(),
      sections: sections.every((section, i) => section === before.sections[i])
        ? before.sections
        : sections,
      places,
    };
    const whole = asHeld(before, mended(after, this.patterns.laid));
    const done = this.patterns.asBefore({ ...whole, places: this.asLaidBefore(whole.places) });
    const unchanged =
      done.patterns === before.patterns &&
      done.sections === before.sections &&
      done.places === before.places;
    return unchanged ? before : done;
  }

  /** The sections that are drafted, each with the phrases of its places. */
  private sections(wanted: ReadonlySet<string> | undefined): Map<string, Drawn> {
    const drawn = new Map<string, Drawn>();
    const times = new Map<string, number>();
    const tempo = tempoOfSong(this.song);
    for (const [id, places] of linesBySection(this.song)) {
      const { section } = places[0];
      const nth = (times.get(section.kind) ?? 0) + 1;
      times.set(section.kind, nth);
      if ((wanted && !wanted.has(id)) || heldSection(this.song, section)) continue;
      const head: DraftedSection = {
        section,
        key: `${section.kind} ${nth}`,
        places: places.map(({ laid, line }) => ({ laid, line })),
        wishes: wishesFor(this.song, section),
        bpm: tempo.bpmAt(places[0].laid.start),
      };
      const one = this.drawnOf(head);
      if (one) drawn.set(id, one);
    }
    return drawn;
  }

  /**
   * Each place is played by its own line and its own guide, whatever other places are. Those that come out alike
   * share their phrases, and the section plays those of the place in the middle of them.
   */
  private drawnOf(head: DraftedSection): Drawn | undefined {
    const bars = barsToDraft(head, this.means, this.says);
    const rolled = this.rolledBars(head);
    const often = head.wishes.fills === 'every 4' || head.wishes.fills === 'every 8';
    const known = new Map<string, readonly Phrase[]>();
    const byPlace = new Map<string, readonly Phrase[]>();
    for (const { laid } of head.places) {
      const own = bars.get(laid.place.id)!;
      if (own.length === 0) return undefined;
      // Where there are fills within a section, each place has its own.
      const key = `${own.map(({ alike }) => alike).join('|')}${often ? laid.place.id : ''}`;
      let phrases = known.get(key);
      if (!phrases) {
        phrases = phrasesOf(own, head, {
          rolled: new Map([...rolled].map(([piece, list]) => [piece, list.get(laid.place.id)!])),
          fill: (wanted, bar) =>
            this.fills.take(
              this.laid.length + Math.floor((laid.firstBar + bar) / 4),
              seedOf(head.wishes, 'fills'),
              wanted,
            ),
        });
        known.set(key, phrases);
      }
      byPlace.set(laid.place.id, phrases);
    }
    const heights = head.places
      .map(({ laid }, nth) => ({
        nth,
        id: laid.place.id,
        height: mean(bars.get(laid.place.id)!.map(({ step }) => step)),
      }))
      .sort((a, b) => a.height - b.height || a.nth - b.nth);
    const middle = heights[(heights.length - 1) >> 1];
    return { ...head, phrases: byPlace.get(middle.id)!, byPlace };
  }

  /** For each piece that was rolled by itself, the bars of each place as they fell then. */
  private rolledBars(head: DraftedSection): Map<PieceId, Map<string, DraftBar[]>> {
    const rolled = new Map<PieceId, Map<string, DraftBar[]>>();
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

  private patternOf(phrase: Phrase, { section, wishes, phrases }: Drawn, id: string): string {
    const { source, meter } = phrase.bars[0];
    const whole = phrases.length === 1;
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
    // A line that rises all the way through a place has risen when the next one begins.
    const half = (i: number, end: boolean) => {
      const { start, end: to } = this.laid[i];
      const middle = (to - start) / 2;
      return end
        ? meanLevel(lines[i].points, middle, to - start)
        : meanLevel(lines[i].points, 0, middle);
    };
    let before = '';
    const next = new Map<string, Song['places'][number]>();
    this.laid.forEach((laid, i) => {
      const one = drawn.get(laid.section.id);
      if (!one) {
        before = '';
        return;
      }
      const own = one.byPlace.get(laid.place.id)!;
      const following = this.laid[i + 1];
      const after = following && drawn.get(following.section.id)?.byPlace.get(following.place.id);
      const name = placeName(this.song, laid);
      const spans = this.energySpans(one, laid, own, name);
      const crash = this.crashSpan(one, laid, own, {
        change: i > 0 ? half(i, false) - half(i - 1, true) : 0,
        first: i === 0,
        energy: half(i, false),
        name,
      });
      if (crash) spans.push(crash);
      const join = this.joinSpan(one, laid, own, {
        slot: i,
        name,
        energy: half(i, true),
        ...(following && {
          next: { energy: half(i + 1, false), name: placeName(this.song, following) },
        }),
        unlike: [lastTurnOf(own) || before, after ? firstTurnOf(after) : ''],
      });
      before = join.sign;
      if (join.span) spans.push(join.span);
      next.set(laid.place.id, this.laidOver(laid, spans));
    });
    return this.song.places.map((place) => next.get(place.id) ?? place);
  }

  /** Overlays where a place sounds otherwise than its section: its energy, its guide or its fills are others. */
  private energySpans(
    { section, wishes, phrases }: Drawn,
    laid: LaidPlace,
    own: readonly Phrase[],
    name: string,
  ): Span[] {
    const length = laid.end - laid.start;
    if (own === phrases) return [];
    return own.flatMap((phrase, n) =>
      differing(phrases[n], phrase).map(({ from, to, pieces }) => {
        const bars = phrase.bars.slice(from, to);
        const { meter, bar, source } = bars[0];
        const off = mean(bars.map(({ step }, i) => step - phrases[n].bars[from + i].step));
        const says =
          off === 0
            ? `${name} has a turn or a kick of its own here`
            : `played ${off > 0 ? 'busier and louder' : 'thinner and softer'}: energy is ${off > 0 ? 'above' : 'below'} that of other places of “${section.name}”`;
        // The names of spans say which bars they cover: one that is taken out is known by it.
        const id = `${off === 0 ? 'own' : 'bars'}-${bar + 1}-${bar + bars.length}`;
        const pattern = this.patterns.write(
          `${ownName(laid.place.id)}${id}`,
          {
            name: `${name}, ${off === 0 ? 'of its own' : 'its energy'}`,
            kind: 'groove',
            meter,
            length: barTicks(meter) * bars.length,
            local: true,
          },
          phrase.strokes.slice(from, to).flatMap((strokes, i) =>
            reasoned(
              strokes.filter(({ piece }) => pieces.includes(piece)),
              i,
              i * barTicks(meter),
            ),
          ),
          {
            as: 'change',
            seed: wishes.seed,
            source: source.groove.name,
            says,
            turns: phrase.turns.flatMap((turn) => (turn >= from && turn < to ? [turn - from] : [])),
          },
        );
        const start = bars[0].start;
        return spanOver(pattern, `${SPAN}${id}`, {
          role: 'change',
          ...anchored(start, start + barTicks(meter) * bars.length, length),
          pieces,
        });
      }),
    );
  }

  /** The crash into a place. */
  private crashSpan(
    { wishes }: Drawn,
    laid: LaidPlace,
    own: readonly Phrase[],
    of: { change: number; first: boolean; energy: number; name: string },
  ): Span | undefined {
    const length = laid.end - laid.start;
    const [bar] = own[0].bars;
    const beat = Math.min(pulseTicks(bar.meter), length);
    if (this.takenOver(laid, 0, 1)) return undefined;
    const crash = crashOf(bar, { ...of, played: own[0].strokes[0], length: beat });
    if (!crash) return undefined;
    const pattern = this.patterns.write(
      `${ownName(laid.place.id)}crash`,
      {
        name: `Crash into ${of.name}`,
        kind: 'groove',
        meter: bar.meter,
        length: beat,
        local: true,
      },
      reasoned(crash.strokes, 0, 0),
      { as: 'change', seed: wishes.seed, source: 'crash', says: crash.says, turns: [] },
    );
    return spanOver(pattern, `${SPAN}crash`, {
      role: 'change',
      ...anchored(0, beat, length),
      pieces: crash.pieces,
    });
  }

  /** The fill or turn at the end of a place. @returns with the sign of its last bar as it is heard */
  private joinSpan(
    one: Drawn,
    laid: LaidPlace,
    own: readonly Phrase[],
    of: Pick<LastBar, 'energy' | 'next' | 'unlike'> & { slot: number; name: string },
  ): { span?: Span; sign: string } {
    const { wishes } = one;
    const length = laid.end - laid.start;
    const bars = own.flatMap((phrase) => phrase.bars);
    const bar = bars.at(-1)!;
    const nth = one.places.findIndex(({ laid: { place } }) => place.id === laid.place.id) + 1;
    const last: LastBar = {
      ...of,
      bar,
      played: playedAs(bar, own.at(-1)!.strokes.at(-1)!),
      key: `${one.key}/${nth}`,
      bars: laid.section.bars,
      fill: (wanted) => this.fills.take(of.slot, seedOf(wishes, 'fills'), wanted),
      mayKick: (at) =>
        at >= 0
          ? bar.mayKick(at)
          : (bars.at(-2)?.mayKick(at + barTicks(bars.at(-2)!.meter)) ?? true),
    };
    const plain = { sign: signOf(last.played.wished) };
    if (this.takenOver(laid, length - barTicks(bar.meter), length)) return plain;
    const join = joinOf(last, wishes, this.says);
    if (!join || this.takenOver(laid, length - join.length, length)) return plain;
    const pattern = this.patterns.write(
      `${ownName(laid.place.id)}join`,
      {
        name: join.as === 'fill' ? `${of.name}, fill` : `${of.name}, turn`,
        kind: join.as === 'fill' ? 'fill' : 'groove',
        meter: bar.meter,
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
    const span = spanOver(pattern, `${SPAN}join`, {
      role: join.as,
      ...anchored(length - join.length, length, length),
      ...(join.length < length && { anchor: 'end' as const, from: -join.length, to: 0 }),
      pieces: join.pieces,
    });
    return { span, sign: join.sign };
  }

  /** Whether a stretch of a place is not the draft's to lay anything over. */
  private takenOver(laid: LaidPlace, from: Ticks, to: Ticks): boolean {
    // A crash or a fill that would begin or end in a bar that is left is none.
    const lines = barLinesOf(laid.section);
    const held = this.held[laid.index];
    if (held.some((bar) => lines[bar] < to && lines[bar + 1] > from)) return true;
    return [...laid.section.spans, ...laid.place.overlay].some((span) => {
      if (span.mode !== 'replace' || span.pieces !== 'all' || this.isLaidOver(laid, span)) {
        return false;
      }
      const lies = placeOfSpan(span, laid.end - laid.start);
      return lies !== undefined && lies.from < to && lies.to > from;
    });
  }

  /** The bars of what a draft laid earlier that a hand changed, as spans of their own; none where there are none. */
  private touchedParts(span: Span, length: Ticks): Span[] {
    const pattern = findPattern(this.song, span.pattern)!;
    const touched = touchedBars(pattern);
    if (touched === undefined) return [span];
    const lies = placeOfSpan(span, length);
    const bar = barTicks(pattern.meter);
    if (!lies || touched.size === 0) return [];
    if (pattern.length <= bar + 1) return [span];
    return [...touched]
      .sort((a, b) => a - b)
      .flatMap((n): Span[] => {
        // Where in the place the bar of the pattern comes round.
        const from = lies.from + n * bar - lies.offset;
        if (from < lies.from - 1 || from >= lies.to) return [];
        const to = Math.min(lies.to, from + bar);
        const id = `${span.id.replace(/ \d+$/, '')} ${n + 1}`;
        return [{ ...span, id, ...anchored(from, to, length), offset: n * bar }];
      });
  }

  /** Places with the very objects they had where they came out the same. */
  private asLaidBefore(places: Song['places']): Song['places'] {
    const list = places.map((place, i) => {
      const before = this.song.places[i];
      const same =
        sameSpans(place.overlay, before.overlay) &&
        (place.drafted ?? []).join() === (before.drafted ?? []).join();
      return same ? before : place;
    });
    return list.every((place, i) => place === this.song.places[i]) ? this.song.places : list;
  }

  /** Whether a draft laid a span in the section of a place, or over it. */
  private isLaidOver({ place, section }: LaidPlace, span: Span): boolean {
    return isOfDraft(this.song, span, section.id) || isOfDraft(this.song, span, place.id);
  }

  /** The place with what the draft lays over it; what was taken out by hand stays out. */
  private laidOver(
    { place, start, end }: LaidPlace,
    spans: readonly Span[],
  ): Song['places'][number] {
    const length = end - start;
    const there = new Set(place.overlay.map(({ id }) => id));
    const gone = new Set((place.drafted ?? []).filter((id) => !there.has(id)));
    const laid = spans.filter(({ id }) => !gone.has(id));
    const is = (span: Span) => isOfDraft(this.song, span, place.id);
    const fresh = new Set(laid.map(({ pattern }) => pattern));
    const names = new Set(laid.map(({ id }) => id));
    const byHand = place.overlay
      .filter((span) => is(span) && !fresh.has(span.pattern))
      .flatMap((span) => this.touchedParts(span, length))
      .map((span) => (names.has(span.id) ? { ...span, id: `${span.id}-kept` } : span));
    const overlay = [...laid, ...byHand, ...place.overlay.filter((span) => !is(span))];
    const drafted = [...laid, ...byHand].map(({ id }) => id).concat(...gone);
    return { ...place, overlay, drafted };
  }
}

const mean = (numbers: readonly number[]) =>
  numbers.reduce((sum, one) => sum + one, 0) / Math.max(1, numbers.length);

const inPercent = (bars: readonly DraftBar[]) =>
  `${Math.round((100 * mean(bars.map(({ step }) => step))) / STEPS)} %`;

const lastTurnOf = (phrases: readonly Phrase[]): string => {
  for (const { turns, strokes } of [...phrases].reverse()) {
    const turn = turns.at(-1);
    if (turn !== undefined) return signOf(strokes[turn]);
  }
  return '';
};

const firstTurnOf = (phrases: readonly Phrase[]): string => {
  for (const { turns, strokes } of phrases) if (turns.length > 0) return signOf(strokes[turns[0]]);
  return '';
};

const sameSpans = (a: readonly Span[], b: readonly Span[]) =>
  a.length === b.length &&
  a.every((span, i) => span === b[i] || JSON.stringify(span) === JSON.stringify(b[i]));
