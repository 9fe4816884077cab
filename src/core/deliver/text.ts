import { articulationOf, noteOf, pieceOf, type Song } from '../model';
import { tableOf } from '../names';
import { onUsualKit } from '../pattern';
import { Lost, writeTab } from '../tab';
import { barNumber, pushInMs, sameMeter, type Meter, type Ticks } from '../time';
import {
  bpmAt,
  laidPlaces,
  placeName,
  positionAt,
  tempoOfSong,
  timeline,
  wovenOf,
  type LaidPlace,
} from '../weave';

export interface WrittenText {
  text: string;
  /** One sentence about what got lost; empty when nothing did. */
  left: string;
}

/** Bars of a place in one meter, in ticks from its start. */
interface Run {
  from: Ticks;
  to: Ticks;
  meter: Meter;
}

function runsOf({ section }: LaidPlace): Run[] {
  const runs: Run[] = [];
  for (let bar = 0; bar < section.bars; bar++) {
    const { start, meter } = barNumber(section.meters, bar);
    const to = barNumber(section.meters, bar + 1).start;
    const last = runs.at(-1);
    if (last && sameMeter(last.meter, meter)) last.to = to;
    else runs.push({ from: start, to, meter });
  }
  return runs;
}

/**
 * A song as plain drum tablature, section by section: equal bars that follow each other are written once with
 * their number, and a section that is played again just as it was is named and not written again.
 */
export function tabOfSong(song: Song): WrittenText {
  const lost = new Lost();
  const legend = new Set<string>();
  const blocks: string[] = [];
  let recorded = false;
  /** The name of the place at which each body was written. */
  const written = new Map<string, string>();
  for (const laid of laidPlaces(song)) {
    const name = placeName(song, laid);
    const bodies = runsOf(laid).map((run) => {
      const { pattern } = wovenOf(song, laid, run, 'place');
      const usual = onUsualKit(pattern, song.kit);
      if (usual !== pattern) recorded = true;
      const tab = writeTab({ ...usual, meter: run.meter });
      lost.addAll(tab.lost);
      tab.legend.forEach((line) => legend.add(line));
      return tab.body;
    });
    const bpm = Math.round(bpmAt(song, laid.start) * 10) / 10;
    const meters = runsOf(laid).map(({ meter }) => `${meter.beats}/${meter.unit}`);
    const head = `[${name}] bars ${laid.firstBar + 1} to ${laid.firstBar + laid.section.bars}, ${meters.join(', ')}, ${bpm} bpm`;
    const body = bodies.join('\n\n');
    const before = written.get(body);
    if (before === undefined) written.set(body, name);
    blocks.push(`${head}\n${before === undefined ? body : `as ${before}`}`);
  }
  const title = `${song.name}\n`;
  if (recorded) lost.add('recorded');
  const legends = ['legend', ...[...legend].sort(), '- = rest'];
  return { text: [title, ...blocks, legends.join('\n'), ''].join('\n\n'), left: lost.said() };
}

/** The columns of a table of hits, and what they hold. */
const COLUMNS = [
  'bar',
  'beat',
  'tick',
  'seconds',
  'piece',
  'struck',
  'velocity',
  'off ms',
  'note',
  'channel',
  'section',
  'pattern',
] as const;

/**
 * All hits of a song in the order they sound, as comma-separated values (RFC 4180). Bars and beats are counted
 * from 1, by the step a hit belongs to; ticks and seconds from the start of the song, where it sounds; a hit
 * that is late is off by a positive time.
 */
export function csvOfSong(song: Song): string {
  const tempo = tempoOfSong(song);
  const places = new Map(
    laidPlaces(song).map((laid) => [laid.place.id, placeName(song, laid)] as const),
  );
  const patterns = new Map(song.patterns.map(({ id, name }) => [id, name]));
  const rows = timeline(song).map((hit) => {
    const { bar, beat } = positionAt(song, hit.home);
    const { piece, articulation } = hit;
    return [
      bar,
      beat,
      rounded(hit.tick, 3),
      rounded(tempo.secondsAt(hit.tick), 6),
      pieceOf(piece, song.kit).name,
      articulationOf(piece, articulation, song.kit).name,
      hit.velocity,
      rounded(pushInMs(hit.tick - hit.home, tempo.bpmAt(hit.home)), 3),
      noteOf(piece, articulation, song.noteMap, song.kit),
      hit.channel + 1,
      places.get(hit.place) ?? '',
      patterns.get(hit.pattern) ?? '',
    ];
  });
  return tableOf(COLUMNS, rows);
}

const rounded = (value: number, digits: number) => Number(value.toFixed(digits));
