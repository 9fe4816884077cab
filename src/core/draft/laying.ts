import { firstProblem, isRecord, type Pattern, type Song, type Span } from '../model';

/** What a draft changes of a song: everything that is another one after it. */
export interface DraftLaid {
  /** Patterns that are new or changed. */
  patterns: readonly Pattern[];
  /** Patterns that nothing plays any more. */
  gone: readonly string[];
  sections: readonly { id: string; spans: Span[] }[];
  places: readonly { id: string; overlay: Span[]; drafted: readonly string[] }[];
}

/** What makes a drafted song of one. @param after the same song, drafted */
export function draftLaid(before: Song, after: Song): DraftLaid {
  const was = new Set(before.patterns);
  const left = new Set(after.patterns.map(({ id }) => id));
  const sections = new Set(before.sections);
  const places = new Set(before.places);
  return {
    patterns: after.patterns.filter((pattern) => !was.has(pattern)),
    gone: before.patterns.flatMap(({ id }) => (left.has(id) ? [] : [id])),
    sections: after.sections.flatMap((section) =>
      sections.has(section) ? [] : [{ id: section.id, spans: section.spans }],
    ),
    places: after.places.flatMap((place) =>
      places.has(place)
        ? []
        : [{ id: place.id, overlay: place.overlay, drafted: place.drafted ?? [] }],
    ),
  };
}

const byId = <T extends { id: string }>(list: readonly T[]) =>
  new Map(list.map((one) => [one.id, one]));

/** What became of a song by a draft: it is looked at first, and then laid. */
const known = new WeakMap<DraftLaid, { song: Song; after: Song }>();

/** Lays a draft into a song. What it names and is not there any more is passed over. */
export function layDraft(song: Song, laid: DraftLaid): Song {
  const before = known.get(laid);
  if (before?.song === song) return before.after;
  const after = laidInto(song, laid);
  known.set(laid, { song, after });
  return after;
}

function laidInto(song: Song, laid: DraftLaid): Song {
  const fresh = byId(laid.patterns);
  const gone = new Set(laid.gone);
  const known = new Set(song.patterns.map(({ id }) => id));
  const sections = byId(laid.sections);
  const places = byId(laid.places);
  const nothing = fresh.size === 0 && gone.size === 0 && sections.size === 0 && places.size === 0;
  if (nothing) return song;
  return {
    ...song,
    patterns: [
      ...song.patterns.flatMap((pattern) =>
        gone.has(pattern.id) ? [] : [fresh.get(pattern.id) ?? pattern],
      ),
      ...laid.patterns.filter(({ id }) => !known.has(id) && !gone.has(id)),
    ],
    sections: song.sections.map((section) => {
      const next = sections.get(section.id);
      return next ? { ...section, spans: next.spans } : section;
    }),
    places: song.places.map((place) => {
      const next = places.get(place.id);
      if (!next) return place;
      const { drafted: _, ...rest } = place;
      const { overlay, drafted } = next;
      return { ...rest, overlay, ...(drafted.length > 0 && { drafted }) };
    }),
  };
}

const isNamed = (list: unknown): list is { id: string }[] =>
  Array.isArray(list) && list.every((one) => isRecord(one) && typeof one.id === 'string');

/** Whether a value can be laid into a song, which stays sound with it. Linear in the two. */
export function isDraftLaid(value: unknown, song: Song): value is DraftLaid {
  if (!isRecord(value)) return false;
  const { patterns, gone, sections, places } = value;
  const shaped =
    isNamed(patterns) &&
    new Set(patterns.map(({ id }) => id)).size === patterns.length &&
    Array.isArray(gone) &&
    isNamed(sections) &&
    isNamed(places) &&
    (places as { drafted?: unknown }[]).every(({ drafted }) => Array.isArray(drafted));
  if (!shaped) return false;
  const laid = layDraft(song, value as unknown as DraftLaid);
  return !firstProblem(laid, song);
}
