import { nanoid } from 'nanoid';
import type { Song } from '@/core';
import { Latest } from '@/core/memo';
import {
  layoutOf,
  MOST_OUTPUTS,
  CHARACTER_IDS,
  KITS,
  type CharacterId,
  type SectionStrip,
  type Track,
} from '@/core/model';
import {
  decibelsOf,
  hitsPerTrack,
  layoutsOf,
  levelOf,
  LOUDEST,
  mixOf,
  OFF,
  partsOf,
  saidLevel,
  sectionStripOf,
  stripOf,
  tracksStruck,
  type TrackPart,
} from '@/core/tracks';
import { placeAt } from '@/core/weave';
import { notify } from '../notices/notices';
import { isComparing } from './compared';
import { cancelGesture, commitGesture, editOrSay, preview } from '../session/edit';
import { openSongNow, useWorkbench, type Workbench } from '../store';
import { songPlayhead } from '../transport/transport';
import { ALL_DRUMS } from './slice';

/** A value within bounds. */
export const within = (value: number, low: number, high: number) =>
  Math.max(low, Math.min(high, value));

const shown = new Latest<readonly unknown[], Track[]>(2, 1);

/** The tracks that are listed: those that something is struck on or that were mixed, or all. */
export function shownTracks({ history, allTracks }: Workbench): readonly Track[] {
  const song = history!.song;
  const { tracks } = layoutOf(song);
  if (allTracks) return tracks;
  const { strips } = mixOf(song);
  const key = [tracks, hitsPerTrack(song), strips, song.patterns, song.kit];
  const same = (known: readonly unknown[]) => known.every((part, i) => part === key[i]);
  return shown.of('', same, key, () => {
    const used = tracksStruck(song);
    for (const { track } of strips) used.add(track);
    const listed = tracks.filter(({ id }) => used.has(id));
    return listed.length > 0 ? listed : [...tracks];
  });
}

/** The chosen track, or the first that is listed; undefined where all drums are chosen. */
export function chosenTrack(state: Workbench): Track | undefined {
  if (state.trackId === ALL_DRUMS) return undefined;
  const tracks = shownTracks(state);
  return tracks.find(({ id }) => id === state.trackId) ?? tracks[0];
}

export function chooseTrack(trackId: string): void {
  if (useWorkbench.getState().kitsOpen) cancelGesture();
  useWorkbench.setState({ trackId, kitsOpen: false });
}

export function stepTrack(by: 1 | -1): void {
  const state = useWorkbench.getState();
  const ids = [...shownTracks(state).map(({ id }) => id), ALL_DRUMS];
  const at = ids.indexOf(chosenTrack(state)?.id ?? ALL_DRUMS);
  chooseTrack(ids[Math.max(0, Math.min(ids.length - 1, at + by))]);
}

/** Opens what all drums go through. */
export function chooseDrums(): void {
  chooseTrack(ALL_DRUMS);
}

export function toggleAllTracks(): void {
  useWorkbench.setState(({ allTracks }) => ({ allTracks: !allTracks }));
}

/** Runs something on the chosen track of the open song. */
export function onChosen(run: (track: Track, song: Song) => void): void {
  const track = chosenTrack(useWorkbench.getState());
  if (track) run(track, openSongNow());
  else notify('The drum bus is chosen: choose a track first.');
}

export function chooseLayout(layout: string): void {
  editOrSay({ type: 'choose layout', layout }, 'choose tracks');
}

export function nextLayout(): void {
  const song = openSongNow();
  const layouts = layoutsOf(song);
  const at = layouts.findIndex(({ id }) => id === layoutOf(song).id);
  chooseLayout(layouts[(at + 1) % layouts.length].id);
}

export function chooseKit(kit: CharacterId): void {
  editOrSay({ type: 'choose kit', kit }, 'kit');
}

/** Chooses the kit after the present one (or, with -1, before it). */
export function nextKit(by: 1 | -1): void {
  const at = CHARACTER_IDS.indexOf(openSongNow().kit.character ?? 'warm');
  const next = CHARACTER_IDS[(at + by + CHARACTER_IDS.length) % CHARACTER_IDS.length];
  chooseKit(next);
  notify(`The kit is “${KITS[next].name}”.`);
}

export function renameLayout(name: string): void {
  editOrSay({ type: 'rename layout', layout: layoutOf(openSongNow()).id, name });
}

export function removeLayout(): void {
  editOrSay({ type: 'remove layout', layout: layoutOf(openSongNow()).id });
}

export function renameTrack(track: string, name: string): void {
  editOrSay({ type: 'rename track', track, name, layout: nanoid(8) });
}

/** Puts a part of the chosen track on a track of its own. */
export function putAlone(part: TrackPart): void {
  const track = nanoid(8);
  if (editOrSay({ type: 'put on track', ...part, track, layout: nanoid(8) })) chooseTrack(track);
}

/** Puts the parts of the chosen track on tracks of their own, one after another. */
export function takeApart(): void {
  onChosen((track, song) => {
    const parts = partsOf(layoutOf(song), song.kit).get(track.id) ?? [];
    if (parts.length < 2) return notify('There is only one thing on this track.');
    putAlone(parts.at(-1)!);
  });
}

export function joinTracks(track: string, other: string): void {
  if (track === other) return;
  if (editOrSay({ type: 'join tracks', track, with: other, layout: nanoid(8) })) chooseTrack(other);
}

/** Joins the chosen track with the one that is listed above it. */
export function joinWithAbove(): void {
  const state = useWorkbench.getState();
  const tracks = shownTracks(state);
  const at = tracks.findIndex(({ id }) => id === chosenTrack(state)?.id);
  if (at < 1) return notify('There is no track above this one to join it with.');
  joinTracks(tracks[at].id, tracks[at - 1].id);
}

/** Moves the chosen track past the next one that is listed. */
export function moveTrack(by: 1 | -1): void {
  onChosen((track, song) => {
    const listed = shownTracks(useWorkbench.getState());
    const next = listed[listed.findIndex(({ id }) => id === track.id) + by];
    if (!next) return;
    const to = layoutOf(song).tracks.findIndex(({ id }) => id === next.id);
    editOrSay({ type: 'move track', track: track.id, to, layout: nanoid(8) });
  });
}

export type Mark = 'mute' | 'solo';

export function toggleMark(mark: Mark, track?: string): void {
  const id = track ?? chosenTrack(useWorkbench.getState())?.id;
  if (!id) return notify('The drum bus is chosen: choose a track first.');
  const on = stripOf(openSongNow(), id)[mark] === true;
  editOrSay({ type: 'set strip', track: id, [mark]: !on }, on ? `no ${mark}` : mark);
}

/** Hears what is soloed by itself, without room, echo and the bus of all drums; or in its place again. */
export function toggleSoloDry(): void {
  const soloDry = !useWorkbench.getState().soloDry;
  useWorkbench.setState({ soloDry });
  notify(soloDry ? 'What is soloed is heard dry.' : 'What is soloed is heard in its place.');
}

export function hearAll(): void {
  const { strips } = mixOf(openSongNow());
  if (strips.some(({ mute, solo }) => mute || solo)) editOrSay({ type: 'hear all' });
}

export function resetTrack(): void {
  onChosen((track) => editOrSay({ type: 'reset strip', track: track.id }));
}

/** Sets the level of a track while a gesture lasts. @param decibels `OFF` to `LOUDEST` */
export function slideLevel(track: string, decibels: number): void {
  preview([{ type: 'set strip', track, level: levelOf(decibels) }], 'level');
}

export function slidePan(track: string, pan: number): void {
  preview([{ type: 'set strip', track, pan }], 'pan');
}

/** Has a track go out on a pair of outputs by itself. @param output 1 is the pair of all drums */
export function setOutput(track: string, output: number): void {
  if (!editOrSay({ type: 'set strip', track, output }, 'outputs')) return;
  const { outputs } = useWorkbench.getState();
  if (output > outputs)
    notify(
      `This device has ${outputs === 1 ? 'one pair of outputs' : `${outputs} pairs of outputs`}: it is heard on the main output here.`,
    );
}

/** The next pair of outputs for the chosen track. */
export function nextOutput(): void {
  onChosen((track, song) => {
    const next = ((stripOf(song, track.id).output ?? 1) % MOST_OUTPUTS) + 1;
    setOutput(track.id, next);
    if (next <= useWorkbench.getState().outputs)
      notify(`${track.name}: outputs ${2 * next - 1} and ${2 * next}.`);
  });
}

/** Notes how the chosen track is mixed, to give it to another one. */
export function copyStrip(): void {
  onChosen((track, song) => {
    useWorkbench.setState({ copiedStrip: stripOf(song, track.id) });
    notify(`How “${track.name}” is mixed is copied.`);
  });
}

/** Mixes the chosen track as the one that was copied. */
export function pasteStrip(): void {
  const { copiedStrip: strip } = useWorkbench.getState();
  if (!strip) return notify('No track was copied yet.');
  onChosen((track) => editOrSay({ type: 'copy strip', track: track.id, strip }, 'mix of a track'));
}

/** Notes the mix as it is, to compare it with what becomes of it. */
export function noteMix(): void {
  const { songId } = useWorkbench.getState();
  const { mixes, kit } = openSongNow();
  useWorkbench.setState({ mixBefore: { songId, mixes, kit }, comparedMix: undefined });
}

/** Notes the mix when Balance is come to, once for a song. */
export function noteFirstMix(): void {
  const { mixBefore, songId } = useWorkbench.getState();
  if (mixBefore?.songId !== songId) noteMix();
}

/** Hears the mix as it was when it was noted, or as it is again. */
export function compareMix(): void {
  const state = useWorkbench.getState();
  const { mixBefore } = state;
  const { mixes, kit } = openSongNow();
  const comparing = isComparing(state);
  if (!comparing && mixBefore?.mixes === mixes && mixBefore.kit === kit) {
    return notify('The mix is as it was: there is nothing to compare.');
  }
  useWorkbench.setState({ comparedMix: comparing ? undefined : { mixes, kit } });
}

/** @param level 0 to 1 */
export function slideSend(track: string, bus: string, level: number): void {
  preview([{ type: 'send track', track, bus, level }], 'send');
}

export function slideBus(bus: string, change: { level?: number; ring?: number; beats?: number }) {
  preview([{ type: 'set bus', bus, ...change }], 'bus');
}

export const slideDone = commitGesture;

/** Makes the chosen track louder or softer. */
export function stepLevel(decibels: number): void {
  onChosen((track, song) => {
    const now = decibelsOf(stripOf(song, track.id).level);
    const level = levelOf(within(Math.round(now) + decibels, OFF, LOUDEST));
    editOrSay({ type: 'set strip', track: track.id, level }, 'level');
  });
}

export function stepPan(by: number): void {
  onChosen((track, song) => {
    const pan = within(Math.round((stripOf(song, track.id).pan + by) * 100) / 100, -1, 1);
    editOrSay({ type: 'set strip', track: track.id, pan }, 'pan');
  });
}

/** Sends more of the chosen track to the first room or echo. */
export function stepSend(kind: 'room' | 'echo', by: number): void {
  onChosen((track, song) => {
    const bus = mixOf(song).buses.find((one) => one.kind === kind);
    if (!bus) return notify(`This mix has no ${kind}.`);
    const now = stripOf(song, track.id).sends.find((send) => send.bus === bus.id)?.level ?? 0;
    const level = within(Math.round((now + by) * 100) / 100, 0, 1);
    editOrSay({ type: 'send track', track: track.id, bus: bus.id, level }, kind);
  });
}

/** Makes the room ring longer or shorter. */
export function stepRing(factor: number): void {
  const bus = mixOf(openSongNow()).buses.find(({ kind }) => kind === 'room');
  if (!bus) return notify('This mix has no room.');
  const ring = within(Math.round((bus.ring ?? 0.42) * factor * 100) / 100, 0.1, 6);
  editOrSay({ type: 'set bus', bus: bus.id, ring }, 'room');
}

/** Makes what is on the chosen track louder or softer at the kit itself. */
export function stepPieces(decibels: number): void {
  onChosen((track, song) => {
    const parts = partsOf(layoutOf(song), song.kit).get(track.id) ?? [];
    const pieces = song.kit.pieces.filter(({ id }) => parts.some(({ piece }) => piece === id));
    const commands = pieces.map(({ id, level }) => ({
      type: 'set piece sound' as const,
      piece: id,
      level: within(level * levelOf(decibels), 0, 4),
    }));
    if (commands.length === 0) return;
    preview(commands, 'sound');
    commitGesture();
  });
}

/**
 * Mixes a track otherwise in one section.
 * @param change what is absent stays, what is undefined is as everywhere
 */
export function setInSection(section: string, track: string, change: SectionChange): void {
  const own = sectionStripOf(openSongNow(), section, track);
  editOrSay({ type: 'set section strip', section, ...own, track, ...change }, 'in a section');
}

export type SectionChange = Partial<Omit<SectionStrip, 'track'>>;

/** Has a track in a section as everywhere again. */
export function asEverywhere(section: string, track: string): void {
  editOrSay({ type: 'set section strip', section, track }, 'in a section');
}

/** The same while a gesture lasts. */
export function slideInSection(section: string, track: string, change: SectionChange): void {
  const own = sectionStripOf(openSongNow(), section, track);
  preview([{ type: 'set section strip', section, ...own, track, ...change }], 'in a section');
}

/** Silences the chosen track in the section where the song stands, or lets it be heard there again. */
export function muteInSection(): void {
  onChosen((track, song) => {
    const here = placeAt(song, songPlayhead())?.section;
    if (!here) return notify('There is no section yet.');
    const muted = sectionStripOf(song, here.id, track.id)?.mute === true;
    setInSection(here.id, track.id, { mute: muted ? undefined : true });
    notify(`${track.name} in “${here.name}”: ${muted ? 'as everywhere' : 'silent'}.`);
  });
}

/** Makes the chosen track softer or louder in the section where the song stands. */
export function stepInSection(decibels: number): void {
  onChosen((track, song) => {
    const here = placeAt(song, songPlayhead())?.section;
    if (!here) return notify('There is no section yet.');
    const now =
      here.mix?.strips.find((strip) => strip.track === track.id)?.level ??
      stripOf(song, track.id).level;
    const level = levelOf(within(Math.round(decibelsOf(now)) + decibels, OFF, LOUDEST));
    setInSection(here.id, track.id, { level });
    notify(`${track.name} in “${here.name}” only: ${saidLevel(level)}.`);
  });
}
