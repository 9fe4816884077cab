import type { PieceId } from '../model/pieces';
import {
  findPattern,
  type Pattern,
  type PatternKind,
  type Section,
  type SectionKind,
  type Song,
  type Span,
} from '../model/song';
import {
  addVelocity,
  setArticulation,
  setPush,
  setVelocities,
  turnArticulation,
} from '../pattern/change';
import { setLength, setMeter } from '../pattern/length';
import { copyHits, moveHits, type Shift } from '../pattern/move';
import { placeHits, removeHits, type StrandHit } from '../pattern/place';
import { addStrand, removeStrand } from '../pattern/strands';
import { MAX_BPM, MIN_BPM } from '../time/tempo';
import type { Meter } from '../time/meter';
import type { Bpm, Ticks, Velocity } from '../time/units';
import * as arrange from '../weave/arrange';

/** A change to the hits or the frame of one pattern. */
type PatternCommand = { pattern: string } & (
  | { type: 'place hits'; hits: readonly StrandHit[] }
  | { type: 'remove hits'; ids: readonly string[] }
  | { type: 'move hits'; ids: readonly string[]; shift: Shift }
  | { type: 'copy hits'; ids: readonly string[]; shift: Shift; seed: string }
  | { type: 'set velocity'; velocities: readonly (readonly [id: string, velocity: Velocity])[] }
  | { type: 'add velocity'; ids: readonly string[]; by: number }
  | { type: 'set push'; ids: readonly string[]; push: Ticks }
  | { type: 'set articulation'; ids: readonly string[]; articulation: string }
  | { type: 'turn articulation'; ids: readonly string[] }
  | { type: 'add strand'; piece: PieceId }
  | { type: 'remove strand'; piece: PieceId }
  | { type: 'set length'; length: Ticks }
  | { type: 'set meter'; meter: Meter }
  | { type: 'set step'; step: Ticks }
  | { type: 'rename pattern'; name: string }
  | { type: 'set pattern kind'; kind: PatternKind }
);

/** A change to the song around its patterns. */
type SongCommand =
  | { type: 'rename song'; name: string }
  | { type: 'set tempo'; at: Ticks; bpm: Bpm }
  | { type: 'remove tempo'; at: Ticks }
  | { type: 'add pattern'; value: Pattern }
  | { type: 'remove pattern'; id: string }
  | { type: 'add section'; section: Section; place: string; index: number }
  | { type: 'repeat place'; place: string; newId: string }
  | { type: 'move place'; place: string; to: number }
  | { type: 'remove place'; place: string }
  | { type: 'change section'; section: string; name?: string; kind?: SectionKind }
  | { type: 'set section bars'; section: string; bars: number }
  | { type: 'set section meter'; section: string; meter: Meter }
  | { type: 'add span'; section: string; span: Span }
  | { type: 'remove span'; section: string; index: number }
  | { type: 'add overlay'; place: string; span: Span }
  | { type: 'remove overlay'; place: string; index: number };

/** Every change that can be made to a song, as a value with a name. The name is what undo shows. */
export type Command = PatternCommand | SongCommand;

/**
 * The song after a command. A command that cannot apply (an id that is gone, a value out of range)
 * gives back the very same song.
 */
export function applyCommand(song: Song, command: Command): Song {
  return 'pattern' in command ? applyToPattern(song, command) : applyToSong(song, command);
}

function applyToPattern(song: Song, command: PatternCommand): Song {
  const before = findPattern(song, command.pattern);
  if (!before) return song;
  const after = changedPattern(before, command);
  if (after === before) return song;
  return { ...song, patterns: song.patterns.map((p) => (p === before ? after : p)) };
}

function changedPattern(pattern: Pattern, command: PatternCommand): Pattern {
  switch (command.type) {
    case 'place hits':
      return placeHits(pattern, command.hits);
    case 'remove hits':
      return removeHits(pattern, new Set(command.ids));
    case 'move hits':
      return moveHits(pattern, new Set(command.ids), command.shift);
    case 'copy hits':
      return copyHits(
        pattern,
        new Set(command.ids),
        command.shift,
        (id) => `${command.seed}-${id}`,
      );
    case 'set velocity':
      return setVelocities(pattern, new Map(command.velocities));
    case 'add velocity':
      return addVelocity(pattern, new Set(command.ids), command.by);
    case 'set push':
      return setPush(pattern, new Set(command.ids), command.push);
    case 'set articulation':
      return setArticulation(pattern, new Set(command.ids), command.articulation);
    case 'turn articulation':
      return turnArticulation(pattern, new Set(command.ids));
    case 'add strand':
      return addStrand(pattern, command.piece);
    case 'remove strand':
      return removeStrand(pattern, command.piece);
    case 'set length':
      return setLength(pattern, command.length);
    case 'set meter':
      return setMeter(pattern, command.meter);
    case 'set step':
      return command.step > 0 ? { ...pattern, step: command.step } : pattern;
    case 'rename pattern':
      return { ...pattern, name: command.name };
    case 'set pattern kind':
      return { ...pattern, kind: command.kind };
  }
}

function applyToSong(song: Song, command: SongCommand): Song {
  switch (command.type) {
    case 'rename song':
      return { ...song, name: command.name };
    case 'set tempo':
      return setTempo(song, command.at, command.bpm);
    case 'remove tempo':
      return command.at > 0
        ? { ...song, tempo: song.tempo.filter(({ at }) => at !== command.at) }
        : song;
    case 'add pattern':
      return { ...song, patterns: [...song.patterns, command.value] };
    case 'remove pattern':
      return arrange.removePattern(song, command.id);
    case 'add section':
      return arrange.addSection(song, command.section, command.place, command.index);
    case 'repeat place':
      return arrange.repeatPlace(song, command.place, command.newId);
    case 'move place':
      return arrange.movePlace(song, command.place, command.to);
    case 'remove place':
      return arrange.removePlace(song, command.place);
    case 'change section': {
      const { name, kind } = command;
      return arrange.changeSection(song, command.section, {
        ...(name !== undefined && { name }),
        ...(kind !== undefined && { kind }),
      });
    }
    case 'set section bars':
      return arrange.setSectionBars(song, command.section, command.bars);
    case 'set section meter':
      return arrange.setSectionMeter(song, command.section, command.meter);
    case 'add span':
      return arrange.addSpan(song, command.section, command.span);
    case 'remove span':
      return arrange.removeSpan(song, command.section, command.index);
    case 'add overlay':
      return arrange.addOverlay(song, command.place, command.span);
    case 'remove overlay':
      return arrange.removeOverlay(song, command.place, command.index);
  }
}

function setTempo(song: Song, at: Ticks, bpm: Bpm): Song {
  if (!(bpm >= MIN_BPM && bpm <= MAX_BPM) || !(at >= 0)) return song;
  const others = song.tempo.filter((change) => change.at !== at);
  return { ...song, tempo: [...others, { at, bpm }].sort((a, b) => a.at - b.at) };
}
