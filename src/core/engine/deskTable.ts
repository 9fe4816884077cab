import { Latest } from '../memo';
import { drumsOf, filtersOf, isSilent, mixOf, stripsOf } from '../tracks';
import {
  layoutOf,
  BY_PIECE,
  DEFAULT_KIT,
  findPiece,
  roomOf,
  trackOfHit,
  type BusSetting,
  type DrumBus,
  type FilterSetting,
  type Kit,
  type LayoutRule,
  type PieceId,
  type Send,
  type Song,
  type StripSetting,
  type TrackLayout,
} from '../model';
import type { ChainTable } from './chain';

/** What the strokes of one piece go through on their way to a track: how the piece itself is heard. */
export interface LaneSetting {
  level: number;
  pan: number;
  filters: readonly FilterSetting[];
  /** How much of it the room hears, 0 to 1. */
  room: number;
  /** The strip it leads to. */
  strip: number;
}

/** One track of the desk. */
export interface StripTable extends ChainTable {
  level: number;
  pan: number;
  mute: boolean;
  /** Its sides are turned upside down. */
  flip: boolean;
  /** How much of it goes past the bus of all drums, 0 to 1. */
  dry: number;
  /** The pair of outputs it goes out on, counted from 0: the first is that of all drums. */
  output: number;
  sends: readonly Send[];
}

/** What all drums go through. */
export interface DrumTable extends ChainTable {
  level: number;
  /** In decibels. */
  ceiling: number;
}

/** A mix as the engine takes it over: lanes lead to strips, strips to buses and to that of all drums. */
export interface DeskTable {
  lanes: readonly LaneSetting[];
  strips: readonly StripTable[];
  buses: readonly BusSetting[];
  drums: DrumTable;
}

/** Which lane a stroke goes through. */
export interface Routes {
  laneOf(piece: PieceId, track: string): number;
  /** The lane of guides: they are heard, and are on no track. */
  guideLane: number;
  /** The lanes in order: of which piece, to which strip. The last one is that of the guides. */
  lanes: readonly { piece: PieceId | undefined; strip: number }[];
}

/** Stands for all notes that no piece of the kit has. */
const OTHER: PieceId = '*';

const routes = new Latest<{ kit: Kit; layout: TrackLayout }, Routes>(4, 1);

/** The lanes that a kit and a layout need: one for each piece and each track it may go to. */
export function routesOf(kit: Kit, layout: TrackLayout): Routes {
  return routes.of(
    '',
    (known) => known.kit === kit && known.layout === layout,
    { kit, layout },
    () => computeRoutes(kit, layout),
  );
}

function computeRoutes(kit: Kit, layout: TrackLayout): Routes {
  const stripOf = new Map(layout.tracks.map(({ id }, index) => [id, index]));
  const lanes: { piece: PieceId | undefined; strip: number }[] = [];
  const byKey = new Map<string, number>();
  for (const piece of [...kit.pieces.map(({ id }) => id), OTHER]) {
    for (const track of tracksOf(piece, layout)) {
      byKey.set(`${piece} ${track}`, lanes.push({ piece, strip: stripOf.get(track)! }) - 1);
    }
  }
  const guideLane = lanes.push({ piece: undefined, strip: layout.tracks.length }) - 1;
  const known = new Set(kit.pieces.map(({ id }) => id));
  return {
    lanes,
    guideLane,
    laneOf(piece, track) {
      return byKey.get(`${known.has(piece) ? piece : OTHER} ${track}`) ?? 0;
    },
  };
}

/** The tracks that some stroke of a piece can be on. */
function tracksOf(piece: PieceId, { rules }: TrackLayout): string[] {
  const tracks = new Set<string>();
  for (const rule of rules) {
    // Notes outside the kit have names of their own: any rule for a piece may be for one of them.
    const fits = rule.piece === undefined || rule.piece === piece || piece === OTHER;
    if (!fits) continue;
    tracks.add(rule.track);
    if (takesAll(rule)) break;
  }
  return [...tracks];
}

const takesAll = ({ piece, articulation, source }: LayoutRule) =>
  piece === undefined && articulation === undefined && source === undefined;

/** Guides stand in the middle and a little behind the kit. */
const GUIDE_LANE: Omit<LaneSetting, 'strip'> = {
  level: 0.8,
  pan: 0,
  filters: [
    { kind: 'highpass', frequency: 32, q: 0.7 },
    { kind: 'highshelf', frequency: 2600, q: 0.7, gain: -5 },
  ],
  room: 0,
};

type Mixed = Pick<Song, 'kit' | 'layouts' | 'layout' | 'mixes'>;

const tables = new Latest<Mixed, DeskTable>(4, 1);

/** The desk a song is heard through. While nothing of it changes it is the very same value. */
export function compileDesk(song: Mixed): DeskTable {
  return tables.of(
    '',
    (known) => isMixedAs(known, song),
    song,
    () => {
      const layout = layoutOf(song);
      const mix = mixOf(song);
      const drums = drumsOf(song);
      const settings = stripsOf(song);
      return {
        lanes: lanesOf(song.kit, routesOf(song.kit, layout)),
        strips: [
          ...settings.map((strip) => ({
            ...chainOf(strip),
            level: strip.level,
            pan: strip.pan,
            mute: isSilent(strip, settings),
            flip: strip.flip === true,
            dry: strip.dry ?? 0,
            output: (strip.output ?? 1) - 1,
            sends: strip.sends,
          })),
          // Guides are heard whatever is soloed, and are no drums: they are what is played against.
          {
            ...chainOf({}),
            level: 1,
            pan: 0,
            mute: false,
            flip: false,
            dry: 1,
            output: 0,
            sends: [],
          },
        ],
        buses: mix.buses,
        drums: { ...chainOf(drums), level: drums.level ?? 1, ceiling: drums.ceiling },
      };
    },
  );
}

function chainOf({ tone, dynamics, drive = 0 }: Partial<StripSetting & DrumBus>): ChainTable {
  return { filters: filtersOf(tone), ...(dynamics && { dynamics }), drive };
}

const lanes = new Latest<Routes, readonly LaneSetting[]>(4, 1);

/** While kit and layout stay, the lanes stay the very same: what sounds in them goes on. */
function lanesOf(kit: Kit, of: Routes): readonly LaneSetting[] {
  return lanes.of(
    '',
    (known) => known === of,
    of,
    () =>
      of.lanes.map(({ piece, strip }) => {
        if (piece === undefined) return { ...GUIDE_LANE, strip };
        const found = findPiece(piece, kit);
        if (!found) return { ...OTHER_NOTES, strip };
        const { level, pan, filters } = found;
        return { level, pan, filters, room: roomOf(found), strip };
      }),
  );
}

function isMixedAs(a: Mixed, b: Mixed): boolean {
  return a.kit === b.kit && a.layouts === b.layouts && a.layout === b.layout && a.mixes === b.mixes;
}

const OTHER_NOTES: Omit<LaneSetting, 'strip'> = {
  level: 1,
  pan: 0,
  filters: [{ kind: 'highpass', frequency: 120, q: 0.707 }],
  room: 0.5,
};

/** The lane a piece is struck through when it is struck by itself. */
export function laneOfPiece(song: Mixed, piece: PieceId, articulation: string): number {
  const layout = layoutOf(song);
  return routesOf(song.kit, layout).laneOf(
    piece,
    trackOfHit(layout, song.kit, { piece, articulation }),
  );
}

/** The desk of a song in which nothing was mixed. */
export function usualDesk(): DeskTable {
  return compileDesk({ kit: DEFAULT_KIT, layouts: [BY_PIECE], layout: BY_PIECE.id, mixes: [] });
}
