import type { Song } from '@/core';
import type { Drummer, PieceId } from '@/core/model';
import { drummerOf } from '@/core/model';
import type { Fitting } from '@/core/guide';
import { impossibles, type Impossible } from '@/core/playing';
import { offers, type Boldness, type VaryOffer } from '@/core/vary';
import { laidPlaces, sameAgain, tickOfBar, type SameAgain, type SameRun } from '@/core/weave';
import { create } from 'zustand';
import { findingsAside } from '@/workers';
import { notify } from '../notices/notices';
import { cancelGesture, edit, editOrSay, preview, songBefore } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { play, setHear, setSongLoop } from '../transport/transport';
import { chooseBars, chosenPlaces, selectPlace, spotsNow } from './choosing';
import type { WeaveView } from './slice';

/** What was found in the song as a whole. */
export interface Findings {
  same: SameAgain;
  wrong: readonly Impossible[];
}

/** What was found last, and in which song. */
interface Found {
  song?: Song;
  findings?: Findings;
}

/** Found in a worker, a moment after the song changed. */
export const useFindings = create<Found>(() => ({}));

let looking = false;

/** Looks through the song for what is the same again and what nobody plays. Called by the view. */
export async function findAll(song: Song): Promise<void> {
  if (useFindings.getState().song === song || looking) return;
  looking = true;
  try {
    // Where no worker answers, the page looks itself.
    const findings = (await findingsAside(song).catch(() => undefined)) ?? findingsOf(song);
    useFindings.setState({ song, findings });
  } finally {
    looking = false;
  }
  const now = useWorkbench.getState().history?.song;
  if (now && now !== song && now.id === song.id) void findAll(now);
}

/** The same, at once. */
export function findingsOf(song: Song): Findings {
  return { same: sameAgain(song), wrong: impossibles(song) };
}

export function setView(weaveView: WeaveView): void {
  leaveVarying();
  useWorkbench.setState({ weaveView, finding: 0 });
  if (weaveView === 'same') goToFinding(0);
  if (weaveView === 'playable') goToFinding(0);
  if (weaveView === 'vary') rollOffers();
}

/** Shows a view, or the chosen section again where it is shown. */
export function toggleView(view: WeaveView): void {
  setView(useWorkbench.getState().weaveView === view ? 'place' : view);
}

const runsNow = (): readonly SameRun[] =>
  useFindings.getState().findings?.same.runs.filter(({ meant }) => !meant) ?? [];
const wrongNow = (): readonly Impossible[] => useFindings.getState().findings?.wrong ?? [];

/** Goes to a finding of the view that is shown: its bars are chosen. */
export function goToFinding(index: number): void {
  const song = openSongNow();
  const { weaveView } = useWorkbench.getState();
  const list = weaveView === 'playable' ? wrongNow() : runsNow();
  if (list.length === 0) return;
  const finding = ((index % list.length) + list.length) % list.length;
  useWorkbench.setState({ finding });
  if (weaveView === 'playable') {
    const { tick, to } = wrongNow()[finding];
    chooseBars({ from: tick, to: to + 1 });
  } else {
    const { from, bars } = runsNow()[finding];
    chooseBars({ from: tickOfBar(song, from + 1), to: tickOfBar(song, from + bars + 1) });
  }
}

export function nextFinding(by: 1 | -1): void {
  const { weaveView, finding } = useWorkbench.getState();
  if (weaveView !== 'same' && weaveView !== 'playable') {
    return notify(
      'Show “repeated bars” or “playable” first: then this goes through what was found.',
    );
  }
  goToFinding(finding + by);
}

/** The places that the run which is looked at lies in. */
function placesOfRun({ from, bars }: SameRun): string[] {
  const song = openSongNow();
  const [first, last] = [tickOfBar(song, from + 1), tickOfBar(song, from + bars + 1)];
  return laidPlaces(song)
    .filter(({ start, end }) => start < last && end > first)
    .map(({ place }) => place.id);
}

/** Marks the places of the run that is looked at as the same on purpose. */
export function meanRun(): void {
  const run = runsNow()[useWorkbench.getState().finding];
  if (run) edit({ type: 'mark as meant', places: placesOfRun(run), meant: true });
}

/** Offers changes for the places of the run that is looked at. */
export function varyRun(): void {
  const { weaveView, finding } = useWorkbench.getState();
  const run = weaveView === 'same' ? runsNow()[finding] : undefined;
  const places = run ? placesOfRun(run) : [];
  if (places.length > 0) {
    selectPlace(places[0]);
    useWorkbench.setState({ placeIds: places });
  }
  setView('vary');
}

/** Hears the chosen bars over and over. */
export function hearHere(): void {
  const { bars } = useWorkbench.getState();
  if (!bars) return;
  setHear('song');
  setSongLoop(bars);
  void play(bars.from);
}

/** Leaves out what makes one moment impossible, or all of them. */
export function mendFinding(all: boolean): void {
  const { finding, reach } = useWorkbench.getState();
  const wrong = all ? wrongNow() : wrongNow().slice(finding, finding + 1);
  if (wrong.length === 0) return;
  const places = [...new Set(wrong.map(({ place }) => place))];
  const from = Math.min(...wrong.map(({ tick }) => tick));
  const to = Math.max(...wrong.map((one) => one.to)) + 1;
  editOrSay({ type: 'make playable', places, from, to, reach }, 'make playable');
}

/** Sets who is to play the song. */
export function setDrummer(change: Partial<Drummer>): void {
  const before = drummerOf(openSongNow());
  const drummer = Object.fromEntries(
    Object.entries({ ...before, ...change }).filter(
      ([, value]) => value !== undefined && (value as unknown) !== false,
    ),
  ) as unknown as Drummer;
  edit({ type: 'set drummer', drummer });
}

/** What varying is asked for, and what it offers. */
interface Varying {
  count: number;
  bold: Boldness;
  seed: number;
  pieces?: readonly PieceId[];
  offers: readonly VaryOffer[];
  /** The offer that is heard. */
  heard?: VaryOffer;
}

export const useVarying = create<Varying>(() => ({ count: 2, bold: 2, seed: 1, offers: [] }));

/** Asks for offers anew, with other wishes if they are given. */
export function rollOffers(
  change: Partial<Pick<Varying, 'count' | 'bold' | 'seed' | 'pieces'>> = {},
): void {
  leaveVarying();
  const wishes = { ...useVarying.getState(), ...change };
  const song = openSongNow();
  const { count, bold, seed, pieces } = wishes;
  const made = offers(song, {
    places: chosenPlaces(),
    count,
    bold,
    seed,
    ...(pieces && { pieces }),
  });
  useVarying.setState({ count, bold, seed, pieces, offers: made, heard: undefined });
}

const varyCommand = (offer: VaryOffer) => {
  const { kind, place, from, to, seed, bold } = offer;
  const { pieces } = useVarying.getState();
  // An offer is for its place: the next one of the section is to differ.
  return {
    type: 'vary',
    kind,
    place,
    from,
    to,
    seed,
    bold,
    reach: 'place',
    ...(pieces && { pieces }),
  } as const;
};

/** Hears an offer in its place, over and over; the same one again hears it without. */
export function hearOffer(offer: VaryOffer): void {
  const again = useVarying.getState().heard === offer;
  cancelGesture();
  const song = openSongNow();
  const laid = laidPlaces(song).find(({ place }) => place.id === offer.place);
  if (!laid) return;
  if (!again) preview([varyCommand(offer)], 'vary', { trying: true });
  useVarying.setState({ heard: again ? undefined : offer });
  const from = tickOfBar(song, Math.max(1, offer.bar - 1));
  const to = Math.min(tickOfBar(song, offer.bar + 2), laidPlaces(song).at(-1)!.end);
  setHear('song');
  setSongLoop({ from, to });
  if (!useWorkbench.getState().playing) void play(from);
}

/** Takes offers: the one that is heard, one that is pressed, or all. */
export function takeOffers(taken: readonly VaryOffer[]): void {
  cancelGesture();
  useVarying.setState({ heard: undefined });
  if (taken.length === 0) return;
  const label = taken.length === 1 ? `vary: ${taken[0].says}` : `vary: ${taken.length} changes`;
  if (!edit(taken.map(varyCommand), label)) {
    return notify('There is no room for that here any more: roll again.', 'error');
  }
  useVarying.setState(({ offers: list }) => ({
    offers: list.filter((one) => !taken.includes(one)),
  }));
}

/** Takes back what is only heard. */
export function leaveVarying(): void {
  if (!useVarying.getState().heard) return;
  cancelGesture();
  useVarying.setState({ heard: undefined });
}

/** Which strand is held against which guide. */
interface Fitted {
  guide?: string;
  piece: PieceId;
}
export const useFitted = create<Fitted>(() => ({ piece: 'kick' }));

/** The guide that is looked at: the chosen one, or the first. */
export function fittedGuide(song: Song): string | undefined {
  const { guide } = useFitted.getState();
  return song.guides.some(({ id }) => id === guide) ? guide : song.guides[0]?.id;
}

/** Fits the strand to the guide in the chosen bars or places, as far as the reach goes. */
export function fitNow(how: Fitting, trying: boolean): void {
  const song = songBefore() ?? openSongNow();
  const guide = fittedGuide(song);
  const { piece } = useFitted.getState();
  const { reach } = useWorkbench.getState();
  if (!guide)
    return notify('There is no reference part to fit to: take one in from a MIDI file first.');
  const spots = spotsNow();
  const whole = laidPlaces(song).map(({ place, start, end }) => ({
    place: place.id,
    from: 0,
    to: end - start,
  }));
  const commands = (spots.length > 0 ? spots : whole).map(
    ({ place, from, to }) =>
      ({ type: 'fit to reference part', place, from, to, reach, guide, piece, how }) as const,
  );
  if (trying) {
    cancelGesture();
    const why = preview(commands, how, { trying: true });
    if (why) notify(why);
    return;
  }
  cancelGesture();
  if (commands.length === 1) editOrSay(commands[0], how);
  else if (!edit(commands, how)) notify('There is nothing of that in these bars.');
}

/** Whether an offer is only heard. */
export const isTrying = () => useVarying.getState().heard !== undefined;

/** Whether something laid is chosen. */
export const hasLaid = () => useWorkbench.getState().laid !== undefined;

useWorkbench.subscribe((state) => {
  // Whatever takes back what is heard ends the hearing of it.
  if (!state.gesture && useVarying.getState().heard) useVarying.setState({ heard: undefined });
});
