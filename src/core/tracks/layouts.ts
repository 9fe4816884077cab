import {
  FAMILIES,
  isBounce,
  layoutByPiece,
  layoutOf,
  ONE_TRACK,
  pieceOf,
  trackOf,
  type Family,
  type Kit,
  type KitPiece,
  type LayoutRule,
  type PieceId,
  type Song,
  type Track,
  type TrackLayout,
} from '../model';

/** The layouts that every song has without anyone making them. */
export const READY_LAYOUTS = ['one', 'families', 'pieces', 'notes'] as const;
export type ReadyLayout = (typeof READY_LAYOUTS)[number];

const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  cymbals: 'Cymbals',
  hats: 'Hats',
  snare: 'Snare',
  toms: 'Toms',
  kick: 'Kick',
  percussion: 'Hand percussion',
  other: 'Other notes',
};

/** The track of what no rule names. */
const OTHER: Track = { id: 'other', name: 'Other notes' };

const isReady = (id: string): id is ReadyLayout =>
  (READY_LAYOUTS as readonly string[]).includes(id);

/**
 * A layout in which pieces that play rendered parts of the song are on tracks of their own: the mix is in
 * their sound already, and no strip may be gone through twice.
 */
function bouncesApart(layout: TrackLayout, pieces: readonly KitPiece[]): TrackLayout {
  const apart = pieces.filter(
    (piece) => isBounce(piece) && !layout.tracks.some(({ id }) => id === piece.id),
  );
  if (apart.length === 0) return layout;
  const ids = new Set(apart.map(({ id }) => id));
  const others = layout.rules.filter(({ piece }) => piece === undefined || !ids.has(piece));
  return {
    ...layout,
    tracks: [...layout.tracks, ...apart.map(({ id, name }) => ({ id, name }))],
    rules: [...apart.map(({ id }) => ({ piece: id, track: id })), ...others],
  };
}

const readyLayout = (id: ReadyLayout, kit: Kit): TrackLayout =>
  bouncesApart(plainLayout(id, kit), kit.pieces);

function plainLayout(id: ReadyLayout, kit: Kit): TrackLayout {
  if (id === 'one') return ONE_TRACK;
  if (id === 'pieces') return layoutByPiece(kit);
  const { pieces } = kit;
  if (id === 'families') {
    const there = FAMILIES.filter(
      (family) => family === OTHER.id || pieces.some((piece) => piece.family === family),
    );
    return {
      id,
      name: 'by family',
      tracks: there.map((family) => ({ id: family, name: FAMILY_NAMES[family] })),
      rules: [
        ...pieces.map(({ id: piece, family }) => ({ piece, track: family })),
        { track: OTHER.id },
      ],
    };
  }
  const notes = pieces.flatMap((piece) =>
    piece.articulations.map((articulation) => ({
      piece: piece.id,
      articulation: articulation.id,
      track: `${piece.id} ${articulation.id}`,
      name: partName({ piece: piece.id, articulation: articulation.id }, kit),
    })),
  );
  return {
    id,
    name: 'by note',
    tracks: [...notes.map(({ track, name }) => ({ id: track, name })), OTHER],
    rules: [
      ...notes.map(({ piece, articulation, track }) => ({ piece, articulation, track })),
      { track: OTHER.id },
    ],
  };
}

/** All layouts of a song: those that are ready, and those made by hand. */
export function layoutsOf(song: Pick<Song, 'layouts' | 'kit'>): TrackLayout[] {
  const own = song.layouts.filter(({ id }) => !isReady(id));
  const ready = READY_LAYOUTS.map(
    (id) => song.layouts.find((one) => one.id === id) ?? readyLayout(id, song.kit),
  );
  return [...ready, ...own];
}

/** Shows the hits on the tracks of another layout. No hit changes. */
export function chooseLayout(song: Song, id: string): Song | string {
  if (song.layout === id) return song;
  const layout = layoutsOf(song).find((one) => one.id === id);
  if (!layout) return 'That layout is not there any more.';
  const known = song.layouts.some((one) => one.id === id);
  return { ...song, layout: id, layouts: known ? song.layouts : [...song.layouts, layout] };
}

/** What of the kit can be on a track by itself: a piece, or one way of striking it. */
export interface TrackPart {
  piece: PieceId;
  articulation?: string;
}

/** "Snare", "Snare, rim". */
export function partName({ piece, articulation }: TrackPart, kit: Kit): string {
  const { name, articulations } = pieceOf(piece, kit);
  const way = articulations.length > 1 && articulations.find(({ id }) => id === articulation);
  return way ? `${name}, ${way.name}` : name;
}

/** What is on each track, in staff order: whole pieces where all ways of striking one are together. */
export function partsOf(layout: TrackLayout, kit: Kit): Map<string, TrackPart[]> {
  const parts = new Map<string, TrackPart[]>(layout.tracks.map(({ id }) => [id, []]));
  for (const piece of kit.pieces) {
    const tracks = piece.articulations.map(({ id }) =>
      trackOf(layout, { piece: piece.id, articulation: id }),
    );
    for (const track of new Set(tracks)) {
      const here = piece.articulations.filter((_, i) => tracks[i] === track);
      const whole = here.length === piece.articulations.length;
      const added = whole
        ? [{ piece: piece.id }]
        : here.map(({ id }) => ({ piece: piece.id, articulation: id }));
      parts.get(track)?.push(...added);
    }
  }
  return parts;
}

/** What a track is called by what it holds: "Hi-hat, closed and open", "Snare, kick and 3 more". */
export function nameOfParts(parts: readonly TrackPart[], kit: Kit): string {
  const pieces = [...new Set(parts.map(({ piece }) => piece))];
  const names = pieces.map((id, i) => {
    const { name, articulations } = pieceOf(id, kit);
    const ways = parts.flatMap(({ piece, articulation }) =>
      piece === id
        ? articulations.filter((way) => way.id === articulation).map((way) => way.name)
        : [],
    );
    const said = i === 0 ? name : name.toLowerCase();
    return ways.length > 0 && articulations.length > 1 ? `${said}, ${listed(ways)}` : said;
  });
  if (names.length === 0) return 'Nothing';
  return names.length > 3
    ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`
    : listed(names);
}

const listed = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

/**
 * A change to the layout in use. What is ready stays as it is: it is copied under a new id first, with
 * its mix.
 */
function changed(
  song: Song,
  newId: string,
  change: (layout: TrackLayout) => TrackLayout | string,
): Song | string {
  const before = layoutOf(song);
  const after = change(before);
  if (typeof after === 'string') return after;
  if (after === before) return song;
  if (!isReady(before.id)) {
    return {
      ...song,
      layouts: song.layouts.map((one) => (one === before ? after : one)),
      mixes: tidied(song.mixes, before.id, after),
    };
  }
  if (song.layouts.some(({ id }) => id === newId) || isReady(newId)) {
    return 'There is a layout of that name already.';
  }
  const mine = song.mixes.find(({ layout }) => layout === before.id);
  const mixes = mine ? [...song.mixes, { ...mine, layout: newId }] : song.mixes;
  return {
    ...song,
    layout: newId,
    layouts: [...song.layouts, { ...after, id: newId, name: freeName(song, 'by hand') }],
    mixes: tidied(mixes, newId, after),
  };
}

/** The mixes without strips of tracks that are gone from a layout. */
function tidied(mixes: Song['mixes'], layout: string, { tracks }: TrackLayout): Song['mixes'] {
  const there = new Set(tracks.map(({ id }) => id));
  return mixes.map((mix) =>
    mix.layout === layout && mix.strips.some(({ track }) => !there.has(track))
      ? { ...mix, strips: mix.strips.filter(({ track }) => there.has(track)) }
      : mix,
  );
}

function freeName({ layouts }: Song, name: string): string {
  const taken = new Set(layouts.map((one) => one.name));
  if (!taken.has(name)) return name;
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`;
}

const GONE = 'That track is not there any more.';

/** Tracks that some rule leads to, in their order. */
function led(layout: TrackLayout, rules: readonly LayoutRule[], more: readonly Track[] = []) {
  const used = new Set(rules.map(({ track }) => track));
  return { ...layout, rules, tracks: [...layout.tracks, ...more].filter(({ id }) => used.has(id)) };
}

/**
 * Puts a piece, or one way of striking it, on a track: one of the layout, or a new one named after it. A
 * track that nothing is left on goes.
 */
export function putOnTrack(
  song: Song,
  part: TrackPart,
  track: string,
  newId: string,
): Song | string {
  const { kit } = song;
  const piece = kit.pieces.find(({ id }) => id === part.piece);
  if (!piece) return 'That piece is not in the kit.';
  const ways = piece.articulations.map(({ id }) => id);
  if (part.articulation !== undefined && !ways.includes(part.articulation)) {
    return `The ${piece.name.toLowerCase()} is not struck in that way.`;
  }
  return changed(song, newId, (layout) => {
    const there = layout.tracks.some(({ id }) => id === track);
    const struck = part.articulation === undefined ? ways : [part.articulation];
    const isOn = struck.every(
      (id) => trackOf(layout, { piece: piece.id, articulation: id }) === track,
    );
    if (isOn) return layout;
    // A rule says nothing any more where a newer one stands before it.
    const kept = layout.rules.filter(
      (rule) =>
        rule.piece !== piece.id ||
        rule.source !== undefined ||
        (part.articulation !== undefined && rule.articulation !== part.articulation),
    );
    const fresh = there ? [] : [{ id: track, name: partName(part, kit) }];
    return led(layout, [{ ...part, track }, ...kept], fresh);
  });
}

/** Puts all that is on one track on another; the two are named after what they hold together. */
export function joinTracks(song: Song, from: string, to: string, newId: string): Song | string {
  const before = layoutOf(song);
  const [one, other] = [from, to].map((id) => before.tracks.find((track) => track.id === id));
  if (!one || !other) return GONE;
  if (from === to) return song;
  return changed(song, newId, (layout) => {
    const rules = layout.rules.map((rule) => (rule.track === from ? { ...rule, track: to } : rule));
    const joined = led(layout, rules);
    const was = nameOfParts(partsOf(layout, song.kit).get(to) ?? [], song.kit);
    const own = other.name !== was && other.name !== OTHER.name;
    const name = nameOfParts(partsOf(joined, song.kit).get(to) ?? [], song.kit);
    return own ? joined : named(joined, to, name);
  });
}

function named(layout: TrackLayout, track: string, name: string): TrackLayout {
  const tracks = layout.tracks.map((one) => (one.id === track ? { ...one, name } : one));
  return { ...layout, tracks };
}

export function renameTrack(song: Song, track: string, name: string, newId: string): Song | string {
  const there = layoutOf(song).tracks.find(({ id }) => id === track);
  if (!there) return GONE;
  if (there.name === name) return song;
  return changed(song, newId, (layout) => named(layout, track, name));
}

/** Moves a track before another place in the order, counted from 0; -1 is the end. */
export function moveTrack(song: Song, track: string, to: number, newId: string): Song | string {
  const { tracks } = layoutOf(song);
  const from = tracks.findIndex(({ id }) => id === track);
  if (from < 0) return GONE;
  const rest = tracks.filter(({ id }) => id !== track);
  const at = to < 0 ? rest.length : Math.min(rest.length, to);
  if (at === from) return song;
  return changed(song, newId, (layout) => ({
    ...layout,
    tracks: [...rest.slice(0, at), tracks[from], ...rest.slice(at)],
  }));
}

export function renameLayout(song: Song, id: string, name: string): Song | string {
  if (isReady(id))
    return 'This layout is ready-made. Change a track, and a layout of your own begins.';
  if (!song.layouts.some((one) => one.id === id)) return 'That layout is not there any more.';
  const layouts = song.layouts.map((one) =>
    one.id === id && one.name !== name ? { ...one, name } : one,
  );
  return layouts.every((one, i) => one === song.layouts[i]) ? song : { ...song, layouts };
}

/** Takes a layout made by hand away, with its mix. */
export function removeLayout(song: Song, id: string): Song | string {
  if (isReady(id)) return 'This layout is ready-made, and stays.';
  if (!song.layouts.some((one) => one.id === id)) return 'That layout is not there any more.';
  const rest = song.layouts.filter((one) => one.id !== id);
  const layouts = rest.length > 0 ? rest : [layoutByPiece(song.kit)];
  return {
    ...song,
    layouts,
    layout: song.layout === id ? layouts[0].id : song.layout,
    mixes: song.mixes.filter(({ layout }) => layout !== id),
  };
}

/** A song whose kit has more pieces; layouts that are ready show them on tracks of their own. */
export function withPieces(song: Song, more: readonly KitPiece[]): Song {
  const kit = { ...song.kit, pieces: [...song.kit.pieces, ...more] };
  const layouts = song.layouts.map((layout) =>
    isReady(layout.id) ? readyLayout(layout.id, kit) : bouncesApart(layout, more),
  );
  return { ...song, kit, layouts };
}

/** A song whose kit has no longer a piece; the track that only it had goes with it, from every layout. */
export function withoutPiece(song: Song, id: PieceId): Song {
  const pieces = song.kit.pieces.filter((piece) => piece.id !== id);
  const kit = { ...song.kit, pieces };
  const layouts = song.layouts.map((layout) => {
    if (isReady(layout.id)) return readyLayout(layout.id, kit);
    return led(
      layout,
      layout.rules.filter((rule) => rule.piece !== id),
    );
  });
  const mixes = layouts.reduce((now, layout) => tidied(now, layout.id, layout), song.mixes);
  return { ...song, kit, layouts, mixes };
}
