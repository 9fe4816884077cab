import { barTicks, swungBy, type Swing, type TempoChange, type Ticks } from '../time';
import { isRecord, type Raw } from './finds';
import { songWith } from './newSong';
import type { RowView, SongView } from './rowView';
import { SONG_FORMAT } from './song';
import { anchored } from './span';
import { spreadTempos } from './spreadTempos';

/** A stored song in the present form, as far as it could be read, and how its patterns were shown. */
export interface Upgraded {
  song: unknown;
  /** Only where the older form had it within the song. */
  view?: SongView;
}

/**
 * Brings a song of an older form to the present one. What sounded sounds the same. A value that is no
 * song of an older form comes back as it is; what is unsound in it stays unsound, for `salvage` to
 * find. Never throws.
 */
export function upgradeSong(value: unknown): Upgraded {
  if (!isRecord(value) || !(value.format === 1 || value.format === 2 || value.format === 3)) {
    return { song: value };
  }
  try {
    return upgraded(value);
  } catch {
    return { song: value };
  }
}

/** Whether a value is a song of a form that came after this one. */
export function isNewerForm(value: unknown): value is { format: number } {
  return isRecord(value) && typeof value.format === 'number' && value.format > SONG_FORMAT;
}

const listOf = (value: unknown): Raw[] => (Array.isArray(value) ? value.filter(isRecord) : []);
const numberOf = (value: unknown, usual: number) => (typeof value === 'number' ? value : usual);

/**
 * Figures, cycles and swing came with form 2; guides, offcuts and remarks with form 3; form 4 has
 * nothing at an absolute time and nothing addressed by index.
 */
function upgraded(song: Raw): Upgraded {
  const patterns = listOf(song.patterns);
  const { tempo, sections: _, places: __, ...rest } = song;
  const tempos = listOf(tempo) as unknown as TempoChange[];
  const bpm = numberOf(tempos[0]?.bpm, 120);
  const view: Record<string, RowView> = {};
  for (const { id, view: rows } of patterns) if (isRecord(rows)) view[String(id)] = rows as RowView;
  const usual = songWith({ id: String(song.id), name: String(song.name), bpm });
  const { sections, places } = laidOut(song, tempos, bpm);
  return {
    view,
    song: {
      ...usual,
      ...rest,
      format: SONG_FORMAT,
      bpm,
      patterns: patterns.map(patternOf),
      sections,
      places,
      feels: song.feels ?? [],
      guides: song.guides ?? [],
      offcuts: listOf(song.offcuts).map((offcut) =>
        isRecord(offcut.pattern) ? { ...offcut, pattern: patternOf(offcut.pattern) } : offcut,
      ),
    },
  };
}

function patternOf(pattern: Raw): Raw {
  const { view: _, strands, ...rest } = pattern;
  return {
    ...rest,
    strands: listOf(strands).map((strand) => ({
      ...strand,
      hits: listOf(strand.hits).map((hit) => hitOf(hit, pattern, strand.loopTicks === undefined)),
      ...(isRecord(strand.from) && {
        from: { ...strand.from, hits: listOf(strand.from.hits).map((hit) => hitOf(hit)) },
      }),
    })),
    ...(Array.isArray(pattern.joined) && { joined: listOf(pattern.joined).map(patternOf) }),
  };
}

/**
 * Pairs of swung notes were counted from the start of the pattern, and are counted from each bar line
 * now: where that differs, a hit is pushed to where it sounded.
 */
function hitOf({ channel, ...hit }: Raw, pattern?: Raw, follows = false): Raw {
  const moved = { ...hit, ...(channel !== undefined && { source: channel }) };
  const { swing, meter } = (pattern ?? {}) as { swing?: Swing; meter?: never };
  if (!follows || !swing || typeof hit.at !== 'number' || typeof hit.push !== 'number') {
    return moved;
  }
  const by = swungBy(hit.at, swing, Infinity) - swungBy(hit.at, swing, barTicks(meter!));
  return by === 0 ? moved : { ...moved, push: hit.push + by };
}

/** Sections and places in which nothing is at an absolute time. */
function laidOut(song: Raw, tempos: readonly TempoChange[], bpm: number) {
  const before = listOf(song.sections);
  const lengths = new Map(
    before.map((section) => [
      section.id,
      barTicks(section.meter as never) * numberOf(section.bars, 1),
    ]),
  );
  const places = listOf(song.places).map((place) => {
    const length = lengths.get(place.section) ?? 0;
    return {
      ...place,
      overlay: listOf(place.overlay).map((span, i) => spanOf(span, i, length, 'overlay')),
    };
  });
  const sections = before.map(({ meter, ...section }) => {
    const spans = listOf(section.spans);
    return {
      ...section,
      meters: [{ bar: 0, meter }],
      tempos: [],
      spans: spans.map((span, i) => {
        const { from, to } = span as { from: Ticks; to: Ticks };
        const over = spans
          .slice(0, i)
          .some((below) => Number(below.from) <= from && Number(below.to) >= to);
        return spanOf(span, i, lengths.get(section.id)!, over ? 'over' : 'base');
      }),
    };
  });
  return spreadTempos({ bpm, sections: sections as never, places: places as never }, tempos);
}

/** A span that holds on to what it went along with before. */
function spanOf(span: Raw, index: number, length: Ticks, lies: 'base' | 'over' | 'overlay'): Raw {
  const { from, to } = span as { from: Ticks; to: Ticks };
  // What played up to the end of its section went on to a new end, wherever it began.
  const base = lies === 'base' && to >= length;
  const place = base ? { anchor: 'whole', from, to: 0 } : anchored(from, to, length);
  const role = lies === 'base' ? 'groove' : place.anchor === 'end' ? 'fill' : 'change';
  return { ...span, id: `span-${index + 1}`, role, ...place };
}
