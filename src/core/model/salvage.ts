import { Finds, isId, isRecord, isText, withParts, type Problem } from './finds';
import { salvageKit, salvageLayouts, salvageMixes, salvageNoteMap } from './salvageSound';
import { MOST } from './limits';
import { songWith } from './newSong';
import { SONG_FORMAT, type Song } from './song';
import { TEMPO_RANGE, isBpm, isMark, isOrigin } from './soundValues';
import { salvageWishes } from './draft';
import { salvageDrummer } from './drummer';
import { salvagePattern } from './salvagePattern';
import { heardPlaces, salvagePlace, salvageSection } from './salvageSection';
import { salvageGuide, salvageFeel, salvageOffcut } from './salvageExtras';

/** What is sound of a song that was stored or sent, and what is not. */
export interface Salvaged {
  /** Absent when it is no song at all. */
  song?: Song;
  problems: Problem[];
}

const sound = new WeakSet<Song>();

/** What is first not well with a song; a song with which all was well is not looked at again. @param trusted as `salvage` has it */
export function firstProblem(song: Song, trusted?: Song): Problem | undefined {
  if (sound.has(song)) return undefined;
  const [problem] = salvage(song, trusted).problems;
  if (!problem) sound.add(song);
  return problem;
}

/**
 * Keeps what is sound of a value that should be a song of the present form. A song in which all is
 * well comes back as the very same value, with no problems. Never throws, whatever it is given.
 * @param trusted a song in which all is well: what the value has in common with it is not looked at
 */
export function salvage(value: unknown, trusted?: Song): Salvaged {
  const finds = new Finds(trusted && partsOf(trusted));
  if (!isRecord(value)) {
    finds.say('', 'This is no song.');
    return { problems: finds.problems };
  }
  finds.expect(value.format === SONG_FORMAT, 'format', `The form must be ${SONG_FORMAT}.`);
  const raw = value as unknown as Song;
  const usual = songWith({ id: 'salvaged', name: 'Salvaged song' });
  const kit = salvageKit(raw.kit, finds);
  const patterns = finds.list(
    raw.patterns,
    'patterns',
    MOST.patterns,
    (item, where) => salvagePattern(item, where, kit, finds),
    ({ id }) => id,
  );
  const patternIds = new Set(patterns.map(({ id }) => id));
  const sections = finds.list(
    raw.sections,
    'sections',
    MOST.sections,
    (item, where) => salvageSection(item, where, patternIds, kit, finds),
    ({ id }) => id,
  );
  const sectionIds = new Set(sections.map(({ id }) => id));
  const places = heardPlaces(
    finds.list(
      raw.places,
      'places',
      MOST.places,
      (item, where) => salvagePlace(item, where, sectionIds, patternIds, kit, finds),
      ({ id }) => id,
    ),
    sections,
    patterns,
    finds,
  );
  const placeIds = new Set(places.map(({ id }) => id));
  const layouts = salvageLayouts(raw.layouts, finds);
  const layoutIds = new Set(layouts.map(({ id }) => id));
  const parts: Song = {
    ...raw,
    format: SONG_FORMAT,
    id: finds.value(raw.id, isId, usual.id, 'id', 'The song has no id.'),
    name: finds.value(raw.name, isText, usual.name, 'name', 'The song has no name.'),
    bpm: finds.value(raw.bpm, isBpm, usual.bpm, 'bpm', TEMPO_RANGE),
    kit,
    noteMap: salvageNoteMap(raw.noteMap, finds),
    layouts,
    layout: finds.value(
      raw.layout,
      (id) => layoutIds.has(id as string),
      layouts[0].id,
      'layout',
      'The layout in use is not there.',
    ),
    mixes: salvageMixes(raw.mixes, layoutIds, finds),
    patterns,
    sections,
    places,
    feels: finds.list(
      raw.feels,
      'feels',
      MOST.list,
      (item, where) => salvageFeel(item, where, kit, finds),
      ({ id }) => id,
    ),
    guides: finds.list(
      raw.guides,
      'guides',
      MOST.spans,
      (item, where) => salvageGuide(item, where, placeIds, finds),
      ({ id }) => id,
    ),
    offcuts: finds.list(
      raw.offcuts,
      'offcuts',
      MOST.list,
      (item, where) => salvageOffcut(item, where, kit, finds),
      ({ id }) => id,
    ),
  };
  const spoilt: (keyof Song)[] = [];
  if (!finds.expect(isMark(raw.locked), 'locked', 'The song is locked, or it is not.')) {
    spoilt.push('locked');
  }
  if (raw.drummer !== undefined) {
    const drummer = salvageDrummer(raw.drummer, kit, finds);
    if (drummer) parts.drummer = drummer;
    else spoilt.push('drummer');
  }
  if (raw.draft !== undefined) {
    const draft = salvageWishes(raw.draft, finds);
    if (draft) parts.draft = draft;
    else spoilt.push('draft');
  }
  if (!isOrigin(raw.origin)) {
    finds.say('origin', 'Where the song was read from is not said as it must be.');
    spoilt.push('origin');
  }
  return { song: withParts(raw, parts, spoilt), problems: finds.problems };
}

/** The parts of a song that need not be looked at again. */
function partsOf(song: Song): Set<unknown> {
  return new Set<unknown>([
    ...song.patterns,
    ...song.patterns.flatMap(({ strands }) => strands),
    ...song.sections,
    ...song.places,
    ...song.guides,
    ...song.feels,
    ...song.offcuts,
    song.kit,
    song.noteMap,
    song.layouts,
    song.mixes,
  ]);
}
