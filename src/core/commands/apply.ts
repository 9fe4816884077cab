import type { PieceId } from '../model/pieces';
import {
  findPattern,
  type Feel,
  type Guide,
  type Offcut,
  type Pattern,
  type PatternKind,
  type RowView,
  type Section,
  type SectionKind,
  type Song,
  type Span,
  type Swing,
} from '../model/song';
import {
  addVelocity,
  setArticulation,
  setPush,
  setVelocities,
  turnArticulation,
} from '../pattern/change';
import * as bars from '../pattern/bars';
import { fillTo, pasteClip, type Clip, type PasteMode } from '../pattern/clip';
import { setStrandLoop, writeOut } from '../pattern/cycle';
import { grow, takeTurn, type TurnKind } from '../pattern/grow';
import { copyLane, setLane, type LaneId } from '../pattern/lanes';
import { whyNotJoined } from '../pattern/join';
import { MAX_BARS, setLength, setMeter } from '../pattern/length';
import { copyHits, moveHits, type Shift } from '../pattern/move';
import { placeHits, removeHits, type StrandHit } from '../pattern/place';
import { writeRoll, type Roll } from '../pattern/ornament';
import { moveRow, setView } from '../pattern/rows';
import { addStrand, removeStrand, setStrandStep } from '../pattern/strands';
import { setSwing, takeOutSwing, writeSwing } from '../pattern/swing';
import { asItCame, clearStrand, takeStrands, type Taking } from '../pattern/take';
import { copyStrand, swapStrands } from '../pattern/voice';
import { MAX_BPM, MIN_BPM } from '../time/tempo';
import type { Meter } from '../time/meter';
import type { Bpm, Ticks, Velocity } from '../time/units';
import * as arrange from '../weave/arrange';
import * as guides from '../guide/guides';
import * as pieces from '../weave/pieces';
import * as shelf from '../weave/shelf';
import type { Remark } from '../weave/shelf';
import { isHandCommand, workByHand, whyNothing, type HandCommand } from './hands';

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
  | { type: 'set strand step'; piece: PieceId; step: Ticks }
  | { type: 'set strand loop'; piece: PieceId; loop: Ticks }
  | { type: 'insert bars'; before: number; count: number }
  | { type: 'remove bars'; from: number; to: number }
  | { type: 'repeat bars'; from: number; to: number }
  | { type: 'crop to bars'; from: number; to: number }
  | { type: 'set swing'; swing: Swing }
  | { type: 'write swing into the hits' }
  | { type: 'take swing out of the hits'; unit: Ticks }
  | { type: 'write cycles out' }
  | { type: 'swap strands'; one: PieceId; other: PieceId }
  | { type: 'copy strand'; from: PieceId; to: PieceId }
  | { type: 'write a roll'; roll: Roll }
  | { type: 'draw values'; lane: LaneId; values: readonly (readonly [id: string, value: number])[] }
  | { type: 'copy values'; lane: LaneId; from: PieceId; to: PieceId }
  | { type: 'grow' }
  | { type: 'take a turn'; kind: TurnKind; seed: number }
  | { type: 'arrange rows'; view: RowView }
  | { type: 'move row'; piece: PieceId; by: number }
  | { type: 'paste'; clip: Clip; at: Ticks; mode: PasteMode; seed: string; onto?: PieceId }
  | { type: 'fill'; ids: readonly string[]; to: Ticks }
  | HandCommand
  | { type: 'take strands'; taking: Taking }
  | { type: 'as it came'; piece: PieceId }
  | { type: 'clear strand'; piece: PieceId }
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
  | { type: 'remove overlay'; place: string; index: number }
  | { type: 'remark pattern'; id: string; remark: Remark }
  | { type: 'move pattern'; id: string; to: number }
  | { type: 'set aside'; id: string }
  | { type: 'pass over'; offcuts: readonly Offcut[] }
  | { type: 'recover'; id: string }
  | { type: 'empty offcuts' }
  | { type: 'split pattern'; id: string; at: Ticks; ids: readonly [string, string] }
  | { type: 'join patterns'; ids: readonly string[]; newId: string; name: string }
  | { type: 'take apart'; id: string }
  | { type: 'add guide'; guide: Guide }
  | {
      type: 'change guide';
      id: string;
      change: Partial<Pick<Guide, 'at' | 'level' | 'muted' | 'name'>>;
    }
  | { type: 'remove guide'; id: string }
  | { type: 'keep feel'; feel: Feel }
  | { type: 'remove feel'; id: string };

/** Every change that can be made to a song, as a value with a name. The name is what undo shows. */
export type Command = PatternCommand | SongCommand;

/**
 * The song after a command. A command that cannot apply (an id that is gone, a value out of range)
 * gives back the very same song.
 */
export function applyCommand(song: Song, command: Command): Song {
  return 'pattern' in command ? applyToPattern(song, command) : applyToSong(song, command);
}

/** Why a command changes nothing, as a sentence that says what to do; undefined when it does. */
export function whyUnchanged(song: Song, command: Command): string | undefined {
  if (applyCommand(song, command) !== song) return undefined;
  const pattern = 'pattern' in command ? findPattern(song, command.pattern) : undefined;
  if (pattern && isHandCommand(command)) return whyNothing(pattern, command);
  switch (command.type) {
    case 'grow':
    case 'insert bars':
    case 'repeat bars':
      return `A pattern has whole bars, ${MAX_BARS} at most: there is no room for more.`;
    case 'remove bars':
      return 'A pattern keeps at least one bar.';
    case 'write swing into the hits':
      return 'The pattern has no swing setting to write in.';
    case 'take swing out of the hits':
      return pattern?.swing
        ? 'The pattern has a swing setting already: what its hits have beside it is their own.'
        : 'The hits are not swung at this step rate: none of the second steps comes late.';
    case 'write cycles out':
      return `There is nothing to write out, or it would be longer than ${MAX_BARS} bars.`;
    case 'fill':
      return 'Select hits first: they are repeated to fill what follows.';
    case 'take strands':
      return 'Those strands of the groove are empty: there is nothing to take.';
    case 'as it came':
      return 'This row is as it came, or was not taken from another groove.';
    case 'join patterns': {
      const chosen = command.ids.flatMap((id) => findPattern(song, id) ?? []);
      return whyNotJoined(chosen) ?? 'That would change nothing.';
    }
    case 'split pattern':
      return 'Put the cursor inside the pattern: it is cut at the bar of the cursor.';
    case 'take apart':
      return 'This pattern was not joined from others.';
    case 'copy values':
      return 'Choose another row that has hits to copy from.';
    default:
      return 'That would change nothing.';
  }
}

function applyToPattern(song: Song, command: PatternCommand): Song {
  const before = findPattern(song, command.pattern);
  if (!before) return song;
  const after = changedPattern(before, command);
  if (after === before) return song;
  return { ...song, patterns: song.patterns.map((p) => (p === before ? after : p)) };
}

function changedPattern(pattern: Pattern, command: PatternCommand): Pattern {
  if (isHandCommand(command)) return workByHand(pattern, command);
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
    case 'set strand step':
      return setStrandStep(pattern, command.piece, command.step);
    case 'set strand loop':
      return setStrandLoop(pattern, command.piece, command.loop);
    case 'insert bars':
      return bars.insertBars(pattern, command);
    case 'remove bars':
      return bars.removeBars(pattern, command);
    case 'repeat bars':
      return bars.repeatBars(pattern, command);
    case 'crop to bars':
      return bars.cropTo(pattern, command);
    case 'set swing':
      return setSwing(pattern, command.swing);
    case 'write swing into the hits':
      return writeSwing(pattern);
    case 'take swing out of the hits':
      return takeOutSwing(pattern, command.unit);
    case 'write cycles out':
      return writeOut(pattern);
    case 'swap strands':
      return swapStrands(pattern, command.one, command.other);
    case 'copy strand':
      return copyStrand(pattern, command.from, command.to);
    case 'write a roll':
      return writeRoll(pattern, command.roll);
    case 'draw values':
      return setLane(pattern, command.lane, new Map(command.values));
    case 'copy values':
      return copyLane(pattern, command.lane, command.from, command.to);
    case 'grow':
      return grow(pattern);
    case 'take a turn':
      return takeTurn(pattern, command.kind, command.seed);
    case 'arrange rows':
      return setView(pattern, command.view);
    case 'move row':
      return moveRow(pattern, command.piece, command.by);
    case 'paste':
      return pasteClip(pattern, command.clip, command.at, command);
    case 'fill':
      return fillTo(pattern, new Set(command.ids), command.to);
    case 'take strands':
      return takeStrands(pattern, command.taking);
    case 'as it came':
      return asItCame(pattern, command.piece);
    case 'clear strand':
      return clearStrand(pattern, command.piece);
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
    case 'remark pattern':
      return shelf.remarkPattern(song, command.id, command.remark);
    case 'move pattern':
      return shelf.movePattern(song, command.id, command.to);
    case 'set aside':
      return shelf.setAside(song, command.id);
    case 'pass over':
      return shelf.addOffcuts(song, command.offcuts);
    case 'recover':
      return shelf.recoverOffcut(song, command.id);
    case 'empty offcuts':
      return shelf.emptyOffcuts(song);
    case 'split pattern':
      return pieces.splitOnShelf(song, command.id, command.at, command.ids);
    case 'join patterns':
      return pieces.joinOnShelf(song, command.ids, command);
    case 'take apart':
      return pieces.takeApart(song, command.id);
    case 'add guide':
      return guides.addGuide(song, command.guide);
    case 'change guide':
      return guides.changeGuide(song, command.id, command.change);
    case 'remove guide':
      return guides.removeGuide(song, command.id);
    case 'keep feel': {
      const others = (song.feels ?? []).filter(({ id }) => id !== command.feel.id);
      return { ...song, feels: [...others, command.feel] };
    }
    case 'remove feel':
      return song.feels?.some(({ id }) => id === command.id)
        ? { ...song, feels: song.feels.filter(({ id }) => id !== command.id) }
        : song;
  }
}

function setTempo(song: Song, at: Ticks, bpm: Bpm): Song {
  if (!(bpm >= MIN_BPM && bpm <= MAX_BPM) || !(at >= 0)) return song;
  const others = song.tempo.filter((change) => change.at !== at);
  return { ...song, tempo: [...others, { at, bpm }].sort((a, b) => a.at - b.at) };
}
