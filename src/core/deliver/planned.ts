import { layoutOf, type Song } from '../model';
import { contentsOf } from '../midi';
import { pathsOf, type Named } from '../names';
import { writeMusicXml } from '../musicxml';
import { hitsPerTrack } from '../tracks';
import type { Cell } from '../notation';
import { songBars, songTicks, tempoOfSong, timeline } from '../weave';
import { audioParts, type AudioPart } from './audio';
import { soundBytes, type Delivery } from '../wishes';
import { chartOf } from './chart';
import { midiBytes, midiOptions, midiParts, songOfFile } from './midi';
import { partsOf, type NamedPart } from './part';
import { csvOfSong, tabOfSong } from './text';
import { chartWarnings, midiWarnings, SILENT } from './warnings';

/** A file that a delivery comes to, and what will be in it. */
export interface PlannedFile extends Named {
  /** Where it goes: clean names that none of the others has, see `pathsOf`. */
  path: string;
  part: NamedPart;
  /** Of a file of sound. */
  audio?: AudioPart;
  /** Of a chart, from 0. */
  page?: number;
  tracks: number;
  bars: number;
  hits: number;
  seconds: number;
  /** Absent where that is known only once it is written. */
  bytes?: number;
  warnings: readonly string[];
}

/** The files of a delivery as they would be written now. The song file is not among them, it is always one;
 * and what is sent live is no file. */
export function plannedFiles(song: Song, delivery: Delivery): PlannedFile[] {
  const files = partsOf(song, delivery.what, delivery.names).flatMap((part) =>
    filesOf(song, delivery, part),
  );
  const paths = pathsOf(files, delivery.packing === 'apart');
  return files.map((file, i) => ({ ...file, path: paths[i] }));
}

type Unplaced = Omit<PlannedFile, 'path'>;

function filesOf(song: Song, delivery: Delivery, part: NamedPart): Unplaced[] {
  const { file } = part;
  const own = part.song;
  const hits = timeline(own).length;
  const about = {
    file,
    part,
    bars: songBars(own),
    hits,
    seconds: tempoOfSong(own).secondsAt(songTicks(own)),
  };
  switch (delivery.handed) {
    case 'midi': {
      return midiParts(song, delivery.midi, part).map((one): Unplaced => {
        const options = midiOptions(song, delivery.midi, one);
        const contents = contentsOf(songOfFile(song, one), options);
        return {
          ...about,
          file: one.file,
          part: one,
          ending: 'mid',
          tracks: contents.tracks.length,
          bars: contents.bars,
          hits: contents.hits,
          bytes: midiBytes(song, delivery.midi, one).length,
          warnings: midiWarnings(own, { ...options, pattern: undefined }, one.track === undefined),
        };
      });
    }
    case 'audio':
      return audioParts(delivery.audio, part).map((audio): Unplaced => ({
        ...about,
        file: audio.file,
        ending: delivery.sound.kind,
        audio,
        tracks: audio.track === undefined ? tracksStruck(own) : 1,
        hits: audio.hits,
        bytes: soundBytes(delivery.sound, audio.seconds),
        warnings:
          audio.hits === 0 && !audio.click && audio.song.guides.length === 0 ? [SILENT] : [],
      }));
    case 'chart': {
      const warnings = chartWarnings(own, delivery.chart);
      if (delivery.chart.form === 'musicxml') {
        const { length } = new TextEncoder().encode(writeMusicXml(own));
        return [{ ...about, ending: 'musicxml', tracks: 1, bytes: length, warnings }];
      }
      const { pages } = chartOf(own, delivery.chart);
      return pages.map(({ systems }, page) => ({
        ...about,
        ...onPage(systems.flatMap(({ cells }) => cells.map(({ cell }) => cell))),
        file: pages.length === 1 ? file : `${file}, page ${page + 1}`,
        ending: 'svg',
        page,
        tracks: 1,
        warnings: page === 0 ? warnings : [],
      }));
    }
    case 'text': {
      if (delivery.text === 'csv') {
        const { length } = new TextEncoder().encode(csvOfSong(own));
        return [
          { ...about, ending: 'csv', tracks: 1, bytes: length, warnings: hits ? [] : [SILENT] },
        ];
      }
      const { text, left } = tabOfSong(own);
      const { length } = new TextEncoder().encode(text);
      const warnings = hits === 0 ? [SILENT] : left ? [left] : [];
      return [{ ...about, ending: 'txt', tracks: 1, bytes: length, warnings }];
    }
    case 'project':
    case 'live':
      return [];
  }
}

/** The bars that are on a page, with what is struck in them. */
function onPage(cells: readonly Cell[]): { bars: number; hits: number } {
  return cells.reduce(
    ({ bars, hits }, cell) => ({ bars: bars + cell.bars, hits: hits + cell.hits }),
    { bars: 0, hits: 0 },
  );
}

const tracksStruck = (song: Song) =>
  layoutOf(song).tracks.filter(({ id }) => (hitsPerTrack(song).get(id) ?? 0) > 0).length;
