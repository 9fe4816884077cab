import type { Command, Song } from '@/core';
import { applyCommand } from '@/core';
import {
  proposedEnergy,
  shiftedEnergy,
  strokeOfEnergy,
  wishesFor,
  type DraftFamily,
  type Energy,
  type EnergyStroke,
} from '@/core/draft';
import {
  findPiece,
  type DraftWishes,
  type GrooveRef,
  type Pattern,
  type Rollable,
} from '@/core/model';
import { placeName, type LaidPlace } from '@/core/weave';
import { patternsOf } from '@/storage/library/library';
import { draftAside, prepareDrafts, type DraftAnswer, type OwnGrooves } from '@/workers';
import { openLibrary, useGather } from '../gather/gather';
import { notify } from '../notices/notices';
import { goToStage } from '../routes';
import { cancelGesture, commitGesture, preview, songBefore } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { play, readySounds, setHear } from '../transport/transport';
import { chosenPlace, chosenPlaces } from './choosing';
import { openDraft } from './draftKept';
import { useDrafting, type Drafting } from './draftState';
import { setView } from './views';

const set = useDrafting.setState;
const get = useDrafting.getState;

/** The shipped families that the worker was given, and when it has read them. */
let preparing: { files: string; done: Promise<void> } | undefined;

/**
 * Opens the library and has its families read aside, so that a draft is there at once. Families of one's own
 * come and go while the page is open: they are looked through each time.
 */
export async function prepareDrafting(): Promise<void> {
  try {
    await openLibrary();
    const { grooves } = useGather.getState();
    const shipped = new Set<string>();
    const named = new Map<string, boolean>();
    for (const { id, family, kind } of grooves) {
      const file = /^shipped\/([\w-]+)\//.exec(id)?.[1];
      if (file !== undefined) shipped.add(file);
      if (kind === 'groove' && !named.has(family)) named.set(family, file === undefined);
    }
    const files = [...shipped].sort();
    if (preparing?.files !== files.join()) {
      preparing = { files: files.join(), done: prepareDrafts(files) };
    }
    await preparing.done;
    const families = [...named].map(([name, own]) => ({ name, own }));
    families.sort((a, b) => Number(a.own) - Number(b.own) || (a.name < b.name ? -1 : 1));
    set({ families });
  } catch (error) {
    preparing = undefined;
    notify('The library cannot be read, so nothing can be drafted. Reload to try again.', 'error');
    throw error;
  }
}

/** What a draft begins with, mostly. */
const DRAFTED_PIECES = ['kick', 'snare', 'hihat', 'ride', 'crash', 'tom-high-floor'];

/** Shows or leaves the draft. */
export function toggleDraft(): void {
  const { weaveView, history } = useWorkbench.getState();
  if (weaveView === 'draft') return setView('place');
  if (!history) return;
  setView('draft');
  set({ why: undefined, of: 'song' });
  // What may be struck soon is there when it is.
  readySounds(DRAFTED_PIECES.filter((id) => findPiece(id, history.song.kit)));
  void prepareDrafting().catch(() => {});
}

/** At most so many grooves of a family of one's own are looked at. */
const MOST_OWN = 64;

/** Grooves of one's own that the wishes name, with their hits. */
async function ownGrooves(song: Song): Promise<OwnGrooves> {
  const wishes = [wishesFor(song), ...song.sections.map((section) => wishesFor(song, section))];
  const { grooves: rows } = useGather.getState();
  const families = new Map<string, DraftFamily>();
  const grooves = new Map<string, Pattern>();
  for (const { feel } of wishes) {
    if (feel.of === 'groove' && !feel.groove.id.startsWith('shipped/')) {
      const { id } = feel.groove;
      if (grooves.has(id)) continue;
      const [pattern] = await patternsOf(id).catch(() => []);
      if (pattern) grooves.set(id, pattern);
    }
    if (feel.of !== 'family' || families.has(feel.family)) continue;
    const own = rows.filter(
      ({ id, family }) => family === feel.family && !id.startsWith('shipped/'),
    );
    if (own.length === 0) continue;
    const read = await Promise.all(
      own.slice(0, MOST_OWN).map(({ id }) => patternsOf(id).catch((): Pattern[] => [])),
    );
    const bpm = own[0].bpm;
    families.set(feel.family, { name: feel.family, bpm, patterns: read.flat() });
  }
  return { families: [...families.values()], grooves };
}

let latest = 0;
/** What was asked for and is not drafted yet, and which sections it is about; absent is all. */
let waiting: { song: string; asks: readonly Command[]; sections?: ReadonlySet<string> } | undefined;

/**
 * Changes what is asked of the draft, and drafts: one step of undo. The song goes on playing; where it stands still
 * and `hear` is given, it is played from there. What is asked meanwhile is drafted together with it.
 */
async function draftWith(
  asks: readonly Command[],
  label: string,
  { hear, sections }: { hear?: boolean; sections?: ReadonlySet<string> } = {},
): Promise<boolean> {
  const job = ++latest;
  const { readOnly, history } = useWorkbench.getState();
  if (!history) return false;
  if (readOnly || history.song.locked) {
    cancelGesture();
    if (!readOnly) notify('The song is locked against change: unlock it to draft it.', 'error');
    return false;
  }
  // Requests made in another song are dropped.
  if (waiting?.song !== history.song.id) waiting = undefined;
  const { id: song } = history.song;
  const both = waiting?.sections && sections && new Set([...waiting.sections, ...sections]);
  const about = waiting ? both : sections;
  waiting = { song, asks: [...(waiting?.asks ?? []), ...asks], ...(about && { sections: about }) };
  const commands = waiting.asks;
  set({ working: true, why: undefined });
  try {
    await prepareDrafting();
    const answer = await answerFor(song, commands, job, about);
    if (!answer) return false;
    const all: Command[] = [...commands, { type: 'draft', laid: answer.laid }];
    const before = songBefore()!;
    const why = preview(all, label);
    const drafted = openSongNow();
    const changed = drafted !== before;
    if (changed) openDraft(before, drafted);
    // What is done meanwhile keeps the draft as it is seen, or takes it back.
    const isWanted = async () => {
      await nextTask();
      return job === latest && useWorkbench.getState().history?.song.id === before.id;
    };
    if (!(await isWanted())) return false;
    if (changed && hear && !useWorkbench.getState().playing) {
      setHear('song');
      void play(chosenPlace()?.start ?? 0);
      if (!(await isWanted())) return false;
    }
    const { history: now, gesture } = useWorkbench.getState();
    if (gesture && now?.song !== drafted) {
      preview(all, label);
      openDraft(before, openSongNow());
    }
    commitGesture();
    set({ says: answer.says, after: undefined });
    if (!changed && why) notify(nothingSaid(answer.says), 'info');
    return changed;
  } catch {
    cancelGesture();
    notify('The draft could not be made: its worker stopped. Try again.', 'error');
    return false;
  } finally {
    if (job === latest) {
      waiting = undefined;
      set({ working: false });
    }
  }
}

/**
 * What a worker drafts of the song with some commands. What is changed by hand meanwhile counts: it is drafted
 * once more then. @returns undefined where something else is asked for by now, or another song is open
 */
async function answerFor(
  song: string,
  commands: readonly Command[],
  job: number,
  sections: ReadonlySet<string> | undefined,
): Promise<DraftAnswer | undefined> {
  for (;;) {
    const from = songBefore();
    if (job !== latest || from?.id !== song) return undefined;
    const asked = commands.reduce(applyCommand, from);
    const own = await ownGrooves(asked);
    const start = performance.now();
    const answer = await draftAside(asked, own, sections);
    performance.measure?.('draft', { start });
    await nextTask();
    const { history } = useWorkbench.getState();
    if (job !== latest || history?.song.id !== from.id) return undefined;
    if (songBefore() === from) return answer;
  }
}

/** What is long is not done in one go with what comes before: the page answers in between. */
const nextTask = () => new Promise<void>((done) => setTimeout(done));

const nothingSaid = (says: readonly string[]) =>
  [
    'There is nothing to draft: all of it is locked, yours, or as it would be.',
    'A section that you choose can be drafted anew.',
    ...says,
  ].join(' ');

/** The section that wishes are of; undefined is the song. */
export function draftedSection(): string | undefined {
  return get().of === 'section' ? chosenPlace()?.section.id : undefined;
}

/** Asks something of the draft, for the song or the chosen section, and drafts what it concerns. */
export function ask(wishes: Partial<DraftWishes>): void {
  const section = draftedSection();
  void draftWith(
    [{ type: 'ask of the draft', ...(section !== undefined && { section }), wishes }],
    'ask of the draft',
  );
}

/** Drafts the song with the feel of a groove of the library, and shows it. */
export function draftLike(groove: GrooveRef): void {
  goToStage('weave');
  setView('draft');
  set({ of: 'song' });
  ask({ feel: { of: 'groove', groove } });
}

/** Rolls the draft: all of it, the chosen section, the fills, the turns, or one piece. */
export function roll(what: { section?: string; part?: Rollable } = {}): void {
  const { section, part } = what;
  const label = part ? `roll the ${part}` : section ? 'roll a section' : 'roll the draft';
  void draftWith(
    [
      {
        type: 'roll the draft',
        ...(section !== undefined && { section }),
        ...(part !== undefined && { part }),
      },
    ],
    label,
    { hear: true },
  );
}

/** Drafts the song as it is asked for: the first time, and where sections were added since. */
export function draftNow(): void {
  void draftWith([], 'draft', { hear: true });
}

/** Lays a form out where the song has none, proposes its energy, and drafts it: one step of undo. */
export function draftSongFrom(form: string): void {
  const song = openSongNow();
  const lay: Command[] = song.places.length === 0 ? [{ type: 'lay out a form', text: form }] : [];
  const lines = proposedEnergy(lay.reduce(applyCommand, song));
  goToStage('weave');
  setView('draft');
  set({ of: 'song' });
  void draftWith([...lay, { type: 'draw energy', lines: [...lines] }], 'draft a part', {
    hear: true,
  });
}

/** Rolls anew, or drafts for the first time where nothing is drafted yet. */
export function rollAgain(): void {
  if (isDrafted()) roll();
  else draftNow();
}

/** Whether anything of the song was drafted. */
export function isDrafted(song: Song = openSongNow()): boolean {
  return song.patterns.some(({ drafted }) => drafted !== undefined);
}

/** Rolls the section that is chosen. */
export function rollSection(): void {
  const here = chosenPlace();
  if (!here) return notify('Choose a section first: press its header.');
  roll({ section: here.section.id });
}

/** Drafts what the chosen sections play anew, also what was written by hand or taken from elsewhere. */
export function draftAnew(): void {
  const song = openSongNow();
  const chosen = chosenPlaces();
  const sections = new Set(
    song.places.filter(({ id }) => chosen.includes(id)).map(({ section }) => section),
  );
  if (sections.size === 0) return notify('Choose a section first: press its header.');
  const emptied = [...sections].map((section): Command => ({ type: 'empty section', section }));
  const label = sections.size === 1 ? 'draft a section anew' : 'draft sections anew';
  void draftWith(emptied, label, { hear: true, sections });
}

/** Rolls the piece of the chosen row, in the chosen section where wishes are of it. */
export function rollRow(): void {
  const { row } = useWorkbench.getState();
  if (!row) return notify('Choose a row first, with the arrow keys or by pressing its name.');
  const section = draftedSection();
  roll({ part: row, ...(section !== undefined && { section }) });
}

export function rollPart(part: Rollable): void {
  const section = draftedSection();
  roll({ part, ...(section !== undefined && { section }) });
}

/** Draws the line that the form of the song proposes. */
export function proposeEnergy(): void {
  const lines = proposedEnergy(openSongNow());
  void draftWith([{ type: 'draw energy', lines: [...lines] }], 'propose energy', { hear: true });
}

/** Raises or lowers the line over the chosen sections. */
export function shiftEnergy(by: number): void {
  const { placeIds } = useWorkbench.getState();
  const here = chosenPlace();
  const places = placeIds.length > 0 ? placeIds : here ? [here.place.id] : [];
  if (places.length === 0) return notify('Choose a section first: press its header.');
  drawLine(shiftedEnergy(openSongNow(), places, by));
}

function drawLine(lines: Energy): void {
  void draftWith([{ type: 'draw energy', lines: [...lines] }], 'draw energy');
}

/** Shows the line as it is being drawn. */
export function drawEnergy(stroke: readonly EnergyStroke[]): void {
  const lines = strokeOfEnergy(songBefore()!, stroke);
  preview([{ type: 'draw energy', lines: [...lines] }], 'draw energy');
}

/** What was drawn is meant: it is drafted. */
export function endEnergy(stroke: readonly EnergyStroke[]): void {
  const song = songBefore()!;
  drawLine(strokeOfEnergy(song, stroke));
}

export function cancelEnergy(): void {
  cancelGesture();
}

/** Whether wishes are of the song or of the chosen section. */
export function setOf(of: Drafting['of']): void {
  if (of === 'section' && !chosenPlace())
    return notify('Choose a section first: press its header.');
  set({ of });
}

/** What the wishes are of, in words. @param here a place of the section; absent is the whole song */
export function saidOf(song: Song, here: LaidPlace | undefined): { title: string; says: string } {
  if (!here) return { title: 'The whole song', says: 'sections may ask for something else' };
  const count = song.places.filter(({ section }) => section === here.section.id).length;
  const name = count === 1 ? placeName(song, here) : here.section.name;
  const places = count === 1 ? 'its one place' : `its ${count} places`;
  return {
    title: `${name.charAt(0).toUpperCase()}${name.slice(1)}, and ${places}`,
    says: 'what is not said here is as for the song',
  };
}

/** Shows the line of energy over the cloth at all times, or only while drafting. */
export function toggleEnergyShown(): void {
  useWorkbench.setState(({ energyShown }) => ({ energyShown: !energyShown }));
}
