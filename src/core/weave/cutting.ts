import {
  anchored,
  findPlace,
  findSection,
  layoutOf,
  MOST,
  levelAt,
  type EnergyPoint,
  type Place,
  type Section,
  type SectionMix,
  type SectionStrip,
  type Song,
  type Span,
} from '../model';
import {
  barAt,
  beatTicks,
  barNumber,
  barTicks,
  PPQ,
  sameMeters,
  type MeterChange,
  type TempoChange,
  type Ticks,
} from '../time';
import { canLast, withSection } from './arrange';
import {
  laidPlaces,
  placesOf,
  sectionTicks,
  stackOf,
  type LaidPlace,
  type LaidSpan,
} from './sections';
import { freeId } from './shelf';

/** A part of a stack that stands alone, in a section of another length. */
function cutSpan({ span, from, to, offset }: LaidSpan, start: Ticks, end: Ticks): Span | undefined {
  const [first, last] = [Math.max(from, start), Math.min(to, end)];
  if (first >= last) return undefined;
  return {
    ...span,
    ...anchored(first - start, last - start, end - start),
    offset: offset + (first - from),
  };
}

const cutSpans = (stack: readonly LaidSpan[], start: Ticks, end: Ticks) =>
  stack.flatMap((lies) => cutSpan(lies, start, end) ?? []);

/** The meters of some bars of a section, counted from the first of them. */
function cutMeters(meters: readonly MeterChange[], from: number, to: number): MeterChange[] {
  const inside = meters.filter(({ bar }) => bar > from && bar < to);
  return [
    { bar: 0, meter: barNumber(meters, from).meter },
    ...inside.map(({ bar, meter }) => ({ bar: bar - from, meter })),
  ];
}

/** The tempo that holds at a tick, as a change there: one that glides is as far as it got by then. */
function onItsWay(tempos: readonly TempoChange[], tick: Ticks): TempoChange | undefined {
  const before = tempos.findLast(({ at }) => at <= tick);
  const next = before?.glide && tempos.find(({ at }) => at > tick);
  if (!before || !next) return before;
  const share = (tick - before.at) / (next.at - before.at);
  return { ...before, bpm: before.bpm + share * (next.bpm - before.bpm) };
}

/** The tempos of a stretch; what held before it holds from its start on. */
function cutTempos(tempos: readonly TempoChange[], from: Ticks, to: Ticks): TempoChange[] {
  const before = onItsWay(tempos, from);
  const inside = tempos.filter(({ at }) => at > from && at < to);
  return [
    ...(before ? [{ ...before, at: 0 }] : []),
    ...inside.map((change) => ({ ...change, at: change.at - from })),
  ];
}

/** The line of energy of a stretch: the same line, seen from its start. */
function cutEnergy(points: readonly EnergyPoint[], from: Ticks, to: Ticks): EnergyPoint[] {
  const inside = points.filter(({ at }) => at > from && at < to);
  const edge = (at: Ticks) => ({ at: at - from, level: levelAt(points, at) });
  const within = inside.map((point) => ({ ...point, at: point.at - from }));
  return [edge(from), ...within.slice(0, MOST.spans - 2), edge(to)];
}

/** The mix of a part that begins some ticks after its section: a ramp has the rest of its time. */
function laterMix(mix: SectionMix, after: Ticks): SectionMix {
  const strips = mix.strips.map(({ ramp, ...there }) => {
    const rest = rampAfter(ramp, after);
    return rest > 0 ? { ...there, ramp: rest } : there;
  });
  return { strips };
}

/** The rest of a ramp once some ticks of it have passed, in quarter notes. */
const rampAfter = (ramp = 0, after: Ticks) => Math.max(0, ramp - after / PPQ);

/**
 * Splits a place at a bar line into two, each a section of its own. Linked places are split alike, so
 * that they stay linked, part by part; nothing sounds otherwise.
 * @param bar of the section, counted from 0: the second part begins there
 */
export function splitPlace(song: Song, placeId: string, bar: number): Song {
  const section = findSection(song, findPlace(song, placeId)?.section ?? '');
  if (!section || !Number.isInteger(bar) || bar < 1 || bar >= section.bars) return song;
  const at = barNumber(section.meters, bar).start;
  const end = sectionTicks(section);
  const secondId = freeId(song, section.id);
  const laid = laidPlaces(song).filter((one) => one.section === section);
  const own = stackOf(laid[0]).filter(({ overlay }) => !overlay);
  // A tempo that is on its way at the line would jump: the part behind it begins where it was.
  const part = (id: string, from: number, to: number, start: Ticks, stop: Ticks): Section => ({
    ...section,
    id,
    bars: to - from,
    meters: cutMeters(section.meters, from, to),
    tempos: cutTempos(section.tempos, start, stop),
    spans: cutSpans(own, start, stop),
  });
  const first = part(section.id, 0, bar, 0, at);
  const { mix } = section;
  const second: Section = {
    ...part(secondId, bar, section.bars, at, end),
    ...(mix && { mix: laterMix(mix, at) }),
  };
  const index = song.sections.indexOf(section);
  const ids = new Set(song.places.map(({ id }) => id));
  const places = song.places.flatMap((place): Place[] => {
    if (place.section !== section.id) return [place];
    let id = `${place.id}-2`;
    for (let n = 3; ids.has(id); n++) id = `${place.id}-${n}`;
    ids.add(id);
    const over = stackOf(laid.find((one) => one.place === place)!).filter((l) => l.overlay);
    const { tempos, energy, drafted } = place;
    const there = new Set(place.overlay.map((span) => span.id));
    const rest = (start: Ticks, stop: Ticks) => {
      const overlay = cutSpans(over, start, stop);
      const left = new Set(overlay.map((span) => span.id));
      // Drafted spans that were removed by hand are remembered in the last part: fills lie there.
      const marks = drafted?.filter((one) => left.has(one) || (!there.has(one) && stop === end));
      return {
        overlay,
        ...(tempos && { tempos: cutTempos(tempos, start, stop) }),
        ...(energy && { energy: cutEnergy(energy, start, stop) }),
        ...(drafted && { drafted: marks }),
      };
    };
    return [
      { ...place, ...rest(0, at) },
      { ...place, id, section: secondId, ...rest(at, end) },
    ];
  });
  const guides = song.guides.map((guide) => {
    if (!guide.place || guide.at < at) return guide;
    const order = places.findIndex(({ id }) => id === guide.place);
    const isSplit = findPlace(song, guide.place)?.section === section.id;
    return isSplit ? { ...guide, place: places[order + 1].id, at: guide.at - at } : guide;
  });
  return {
    ...song,
    sections: [...song.sections.slice(0, index), first, second, ...song.sections.slice(index + 1)],
    places,
    guides,
  };
}

/**
 * The beginning of a section as a section of its own. Where it does not end at a bar line, its last bar
 * is a shorter one.
 * @param length ticks, more than 0 and less than the section lasts
 */
export function beginningOf(section: Section, length: Ticks, id: string): Section {
  const { bar, start, meter } = barAt(section.meters, length);
  const rest = length - start;
  const meters = cutMeters(section.meters, 0, Math.max(1, bar));
  const { beats, unit } = shortMeter(rest, meter);
  const stack = stackOf({
    place: { id: '', section: section.id, overlay: [] },
    section,
    index: 0,
    firstBar: 0,
    start: 0,
    end: sectionTicks(section),
    tempos: [],
  });
  const { locked: _, ...plain } = section;
  return {
    ...plain,
    id,
    bars: bar + (rest > 0 ? 1 : 0),
    meters: rest > 0 ? [...(bar > 0 ? meters : []), { bar, meter: { beats, unit } }] : meters,
    tempos: cutTempos(section.tempos, 0, length),
    spans: cutSpans(stack, 0, length),
  };
}

/** A bar of so many ticks, counted in the beats of another meter as far as they divide it. */
function shortMeter(ticks: Ticks, { unit }: MeterChange['meter']): MeterChange['meter'] {
  for (let fine = unit; fine <= 64; fine *= 2) {
    const beats = ticks / beatTicks({ beats: 1, unit: fine });
    if (Number.isInteger(beats) && beats >= 1 && beats <= 64) return { beats, unit: fine };
  }
  return { beats: Math.max(1, Math.round(ticks / beatTicks({ beats: 1, unit: 64 }))), unit: 64 };
}

/** Why two neighbours cannot become one section. */
export function whyNotMerged(song: Song, placeId: string): string | undefined {
  const laid = laidPlaces(song);
  const here = laid.find(({ place }) => place.id === placeId);
  const next = here && laid[here.index + 1];
  if (!here || !next) return 'There is no section after this one to merge it with.';
  const bars = here.section.bars + next.section.bars;
  if (!canLast(mergedMeters(here.section, next.section), bars)) {
    return 'Together they would be longer than a section can be.';
  }
  const differing = mixedApart(here.section, next.section);
  if (differing) {
    const name = layoutOf(song).tracks.find(({ id }) => id === differing)?.name ?? differing;
    return `They are mixed differently (${name}): one section has one mix. Give both the same in Balance first.`;
  }
  return undefined;
}

/** The first track that two sections mix differently. The second may only go on with what the first began. */
function mixedApart(a: Section, b: Section): string | undefined {
  const length = sectionTicks(a);
  const [one, other] = [a, b].map(
    ({ mix }) => new Map(mix?.strips.map((strip) => [strip.track, strip])),
  );
  const values = (strip: SectionStrip | undefined) =>
    strip && JSON.stringify([strip.level, strip.pan, strip.mute, strip.sends]);
  return [...one.keys(), ...other.keys()].find((track) => {
    const [before, after] = [one.get(track), other.get(track)];
    if (values(before) !== values(after)) return true;
    const rest = rampAfter(before?.ramp, length);
    return rest > 0 && rest !== after?.ramp;
  });
}

function mergedMeters(a: Section, b: Section): MeterChange[] {
  const last = barNumber(a.meters, a.bars - 1).meter;
  return [
    ...a.meters.filter(({ bar }) => bar < a.bars),
    ...b.meters
      .map(({ bar, meter }) => ({ bar: bar + a.bars, meter }))
      .filter(
        ({ bar, meter }) =>
          bar > a.bars || !sameMeters([{ bar: 0, meter }], [{ bar: 0, meter: last }]),
      ),
  ];
}

/**
 * Makes one section of a place and the one behind it; nothing sounds otherwise. Where everywhere in the
 * song the two follow each other, all these places are merged alike and stay linked; else the two come
 * on their own first.
 */
export function mergeNext(song: Song, placeId: string): Song {
  if (whyNotMerged(song, placeId)) return song;
  const laid = laidPlaces(song);
  const here = laid.find(({ place }) => place.id === placeId)!;
  const [a, b] = [here.section, laid[here.index + 1].section];
  const pairs = song.places.flatMap(({ section }, i) =>
    section === a.id && song.places[i + 1]?.section === b.id ? [i] : [],
  );
  const always =
    a !== b && pairs.length === placesOf(song, a.id) && pairs.length === placesOf(song, b.id);
  const merging = always ? pairs : [here.index];
  const merged: Song = { ...song };
  const id = always || placesOf(song, a.id) === 1 ? a.id : freeId(song, a.id);
  const length = sectionTicks(a);
  const total = length + sectionTicks(b);
  const ofSection = (one: LaidPlace) => stackOf(one).filter(({ overlay }) => !overlay);
  const second = laid[here.index + 1];
  const section: Section = {
    ...a,
    id,
    bars: a.bars + b.bars,
    meters: mergedMeters(a, b),
    tempos: mergedTempos(a.tempos, b.tempos, length, song.bpm),
    spans: uniquely([
      ...moved(ofSection(here), 0, total),
      ...moved(ofSection(second), length, total),
    ]),
  };
  const gone = new Set(merging.map((i) => song.places[i + 1].id));
  merged.places = song.places.flatMap((place, i): Place[] => {
    if (gone.has(place.id)) return [];
    if (!merging.includes(i)) return [place];
    const next = song.places[i + 1];
    const over = (one: LaidPlace) => stackOf(one).filter(({ overlay }) => overlay);
    const tempos =
      place.tempos || next.tempos
        ? mergedTempos(place.tempos ?? a.tempos, next.tempos ?? b.tempos, length, song.bpm)
        : undefined;
    const [own, after] = [moved(over(laid[i]), 0, total), moved(over(laid[i + 1]), length, total)];
    const overlay = uniquely([...own, ...after]);
    const renamed = new Map(after.map((span, n) => [span.id, overlay[own.length + n].id]));
    const drafted = [
      ...(place.drafted ?? []),
      ...(next.drafted ?? []).map((one) => renamed.get(one) ?? one),
    ];
    const energy = mergedEnergy(place.energy, next.energy, length);
    return [
      {
        ...place,
        section: id,
        overlay,
        ...(tempos && { tempos }),
        ...(energy && { energy }),
        ...((place.drafted || next.drafted) && { drafted: [...new Set(drafted)] }),
      },
    ];
  });
  const used = new Set(merged.places.map((place) => place.section));
  const index = song.sections.indexOf(a);
  const others = song.sections.filter((one) => used.has(one.id) && one.id !== id);
  merged.sections = [...others.slice(0, index), section, ...others.slice(index)];
  merged.guides = song.guides.map((guide) => {
    const i = song.places.findIndex((place) => place.id === guide.place);
    return i > 0 && gone.has(guide.place!)
      ? { ...guide, place: song.places[i - 1].id, at: guide.at + length }
      : guide;
  });
  return merged;
}

/** The lines of energy of two places one after another; one that was not drawn goes on as the other ends. */
function mergedEnergy(
  a: Place['energy'],
  b: Place['energy'],
  length: Ticks,
): EnergyPoint[] | undefined {
  if (!a && !b) return undefined;
  const first = (a ?? []).filter(({ at }) => at < length - 1);
  if (a) first.push({ at: length - 1, level: levelAt(a, length) });
  const second = (b ?? []).map((point) => ({ ...point, at: point.at + length }));
  if (b && b[0].at > 0) second.unshift({ at: length, level: levelAt(b, 0) });
  return [...first, ...second].slice(0, MOST.spans);
}

/** Spans of a section as they lie in a longer one. */
function moved(stack: readonly LaidSpan[], by: Ticks, total: Ticks): Span[] {
  // A stretch shorter than the precision of numbers has no length once it is moved: it is dropped.
  const left = stack.filter(({ from, to }) => from + by < to + by);
  return left.map(({ span, from, to, offset }) => ({
    ...span,
    ...anchored(from + by, to + by, total),
    offset,
  }));
}

function uniquely(spans: readonly Span[]): Span[] {
  const taken = new Set<string>();
  const numbers = new Map<string, number>();
  return spans.map((span) => {
    let { id } = span;
    let n = numbers.get(span.id) ?? 2;
    for (; taken.has(id); n++) id = `${span.id}-${n}`;
    numbers.set(span.id, n);
    taken.add(id);
    return id === span.id ? span : { ...span, id };
  });
}

function mergedTempos(
  a: readonly TempoChange[],
  b: readonly TempoChange[],
  length: Ticks,
  bpm: number,
): TempoChange[] {
  if (a.length === 0 && b.length === 0) return [];
  const first = a.length > 0 ? a.filter(({ at }) => at < length) : [{ at: 0, bpm }];
  const second = b.length > 0 ? b : [{ at: 0, bpm }];
  const all = [...first, ...second.map((change) => ({ ...change, at: change.at + length }))];
  // Two changes nearer than the precision of numbers fall together: the later one holds.
  return all.filter(({ at }, i) => all[i + 1]?.at !== at);
}

/** What comes into bars that are added to the end of a section. */
export const LENGTHENINGS = ['go on', 'repeat', 'empty'] as const;
export type Lengthening = (typeof LENGTHENINGS)[number];

/**
 * Makes a section longer or shorter. A shorter one is cut at its end; what holds on to the end moves
 * along. Into bars that are added come the patterns as they go round (`go on`), the last bars once more
 * as far as they reach (`repeat`), or nothing (`empty`).
 */
export function lengthen(
  song: Song,
  sectionId: string,
  bars: number,
  how: Lengthening,
): Song | string {
  let refused: string | undefined;
  const longer = withSection(song, sectionId, (section) => {
    if (bars === section.bars || !canLast(section.meters, bars)) return section;
    const longer = { ...section, bars };
    const before = sectionTicks(section);
    const after = sectionTicks(longer);
    if (after < before || how === 'go on') return longer;
    const still = section.spans.map((span): Span =>
      span.anchor === 'whole' ? { ...span, anchor: 'start', to: before + span.to } : span,
    );
    if (how === 'empty') return { ...longer, spans: still };
    const stack = stackOf({
      place: { id: '', section: section.id, overlay: [] },
      section: { ...section, spans: still.filter(({ anchor }) => anchor === 'start') },
      index: 0,
      firstBar: 0,
      start: 0,
      end: before,
      tempos: [],
    });
    const added: Span[] = [];
    // The last bars once more: as many as are added, or all there are, over and over.
    const tail = Math.min(section.bars, bars - section.bars);
    const start = barNumber(section.meters, section.bars - tail).start;
    const long = before - start;
    for (let at = before; at < after; at += long) {
      for (const lies of stack) {
        const span = cutSpan(lies, start, Math.min(before, start + after - at));
        const laid = span && laidFrom(span, at, Math.min(long, after - at));
        if (laid) added.push(laid);
      }
      if (still.length + added.length > MOST.spans) {
        refused = `The last ${tail === 1 ? 'bar' : `${tail} bars`} over and over are more than a section can hold. Add fewer bars, or let what it plays go on.`;
        return section;
      }
    }
    return { ...longer, spans: uniquely([...still, ...added]) };
  });
  return refused ?? longer;
}

/** A span that was cut out of a stretch, as it lies from a tick on. */
function laidFrom(span: Span, at: Ticks, length: Ticks): Span {
  const from = span.anchor === 'end' ? length + span.from : span.from;
  const to = span.anchor === 'start' ? span.to : length + span.to;
  return { ...span, anchor: 'start', from: at + from, to: at + to };
}

/**
 * Counts a section in another meter from one of its bars on, until the next change; the same meter as
 * before that bar takes a change away. Bars keep their number, spans their ticks.
 */
export function setMeterAt(
  song: Song,
  sectionId: string,
  bar: number,
  meter: MeterChange['meter'],
): Song {
  return withSection(song, sectionId, (section) => {
    if (!Number.isInteger(bar) || bar < 0 || bar >= section.bars) return section;
    const { beats, unit } = meter;
    const others = section.meters.filter((change) => change.bar !== bar);
    const all = [...others, { bar, meter: { beats, unit } }].sort((a, b) => a.bar - b.bar);
    const meters = all.filter(
      (change, i) => i === 0 || !sameMeters([{ ...change, bar: 0 }], [{ ...all[i - 1], bar: 0 }]),
    );
    return sameMeters(meters, section.meters) || !canLast(meters, section.bars)
      ? section
      : { ...section, meters };
  });
}

/** Gives a place tempos of its own, beginning as those of its section; or takes them away. */
export function setOwnTempos(song: Song, placeId: string, own: boolean): Song {
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!laid || (laid.place.tempos !== undefined) === own) return song;
  const start = laid.tempos.length > 0 ? laid.tempos : [{ at: 0, bpm: song.bpm }];
  return {
    ...song,
    places: song.places.map((place) => {
      if (place.id !== placeId) return place;
      const { tempos: _, ...rest } = place;
      return own ? { ...rest, tempos: start } : rest;
    }),
  };
}

/** The bar of a section that a tick of it lies in, and how long it is. */
export function barOfSection(
  section: Section,
  tick: Ticks,
): { from: Ticks; to: Ticks; bar: number } {
  const { bar, start, meter } = barAt(section.meters, tick);
  return { bar, from: start, to: start + barTicks(meter) };
}
