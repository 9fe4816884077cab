import {
  compileDesk,
  compileScore,
  LONGEST_TAIL,
  notesIn,
  Rendering,
  scoreWithin,
} from '../engine';
import type { SoundId } from '../model';
import { LoudnessMeter, type KitSound } from '../sound';
import { levelOf } from '../tracks';
import type { Hertz, Samples, Seconds } from '../time';
import { tempoOfSong } from '../weave';
import type { AudioPart } from './audio';

/** So much is rendered at once. */
const PIECE: Seconds = 1;

/** What takes the samples of a file. */
export interface Encoding {
  /** Takes what comes next, before the same room is filled anew. */
  add(left: Float32Array, right: Float32Array): void | Promise<void>;
}

export interface RenderForm {
  sampleRate: Hertz;
  sounds: readonly KitSound[];
  /** Told how much is done, 0 to 1. */
  report?: (share: number) => void;
}

/** What was noticed while a part was rendered. */
export interface Rendered {
  /** The most that the limiter held back, in decibels: 0 where nothing came up to full scale. */
  limited: number;
}

type Played = Pick<AudioPart, 'song' | 'click' | 'within'>;

const scoreOf = ({ song, within }: Pick<Played, 'song' | 'within'>) =>
  within ? scoreWithin(compileScore(song), within) : compileScore(song);

/** A song, or what is meant of it, as it is rendered for a file. */
function renderingOf(played: Played, { sampleRate, sounds }: RenderForm, to?: Seconds) {
  const { song, click, within } = played;
  return new Rendering(scoreOf(played), {
    sampleRate,
    sounds,
    click,
    desk: compileDesk(song),
    ...(within && { from: tempoOfSong(song).secondsAt(within.from - within.lead) }),
    ...(to !== undefined && { to }),
  });
}

/** The sounds that a part needs, those it is measured by included. */
export function soundsOfPart({ measured, ...part }: AudioPart): Set<SoundId> {
  const all = measured ? [part, { song: measured.song }] : [part];
  return new Set(all.flatMap((one) => notesIn(scoreOf(one))));
}

/** Never louder than this, so that what a player makes between two samples has room. */
const CEILING = levelOf(-0.1);

/** What a part is multiplied by so that its mix is as loud as is wished; 1 where nothing is. */
export function gainOf({ measured, seconds }: AudioPart, form: RenderForm): number {
  if (!measured) return 1;
  const { song, click, by, target } = measured;
  const rendering = renderingOf({ song, click }, form);
  const meter = new LoudnessMeter(form.sampleRate);
  let peak = 0;
  for (const [left, right, frames] of piecesOf(rendering, form.sampleRate)) {
    if (by === 'loudness') meter.process(left, right, frames);
    for (let i = 0; i < frames; i++) {
      peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
    }
    form.report?.(Math.min(1, rendering.done / (seconds * form.sampleRate)));
  }
  if (peak === 0) return 1;
  const wanted = by === 'peak' ? levelOf(target) / peak : levelOf(target - meter.integrated);
  return Number.isFinite(wanted) ? Math.min(wanted, CEILING / peak) : 1;
}

/** A rendering piece by piece: both sides and how many samples of them are filled. */
function* piecesOf(
  rendering: Rendering,
  rate: Hertz,
): Generator<[Float32Array, Float32Array, Samples]> {
  const size = Math.round(PIECE * rate);
  const [left, right] = [new Float32Array(size), new Float32Array(size)];
  for (let frames = rendering.next(left, right); frames > 0; frames = rendering.next(left, right)) {
    yield [left, right, frames];
  }
}

/** So many samples of a loop are handed over last; of anything else none. */
export function heldBack(
  { seconds, ending }: Pick<AudioPart, 'seconds' | 'ending'>,
  rate: Hertz,
): Samples {
  if (ending !== 'loop') return 0;
  return Math.min(Math.round(seconds * rate), Math.ceil(LONGEST_TAIL * rate));
}

/**
 * Renders a part. A loop begins with what rings over from its end, which is not known before: its first
 * seconds are handed over last.
 * @param encoding takes all, or of a loop what comes after its first seconds
 * @param beginning takes the first seconds of a loop; unused otherwise
 * @param gain from `gainOf`
 */
export async function renderPart(
  part: AudioPart,
  form: RenderForm,
  { encoding, beginning, gain = 1 }: { encoding: Encoding; beginning: Encoding; gain?: number },
): Promise<Rendered> {
  const { seconds, ending } = part;
  const { sampleRate, report } = form;
  const rendering = renderingOf(part, form, ending === 'bar' ? seconds : undefined);
  const body = Math.round(seconds * sampleRate);
  const isLoop = ending === 'loop' && body > 0;
  const held = heldBack({ seconds, ending }, sampleRate);
  const head = [new Float32Array(held), new Float32Array(held)];
  let at = 0;
  for (const [left, right, frames] of piecesOf(rendering, sampleRate)) {
    const sides = [left, right].map((side) => side.subarray(0, frames));
    if (gain !== 1) for (const side of sides) side.forEach((x, i) => (side[i] = x * gain));
    if (isLoop) {
      const [first, last] = [
        Math.min(frames, Math.max(0, held - at)),
        Math.max(0, Math.min(frames, body - at)),
      ];
      sides.forEach((side, n) => {
        for (let i = 0; i < first; i++) head[n][at + i] += side[i];
        // A short loop comes round again before what rings has ended.
        for (let i = last; i < frames; i++) head[n][(at + i - body) % body] += side[i];
      });
      if (last > first)
        await encoding.add(sides[0].subarray(first, last), sides[1].subarray(first, last));
    } else await encoding.add(sides[0], sides[1]);
    at += frames;
    report?.(Math.min(1, at / Math.max(1, body)));
  }
  const limited = rendering.takeLimited();
  if (!isLoop) return { limited };
  // What is shorter than its last bar is silent up to it.
  const missing = body - Math.max(at, held);
  if (missing > 0) await encoding.add(new Float32Array(missing), new Float32Array(missing));
  await beginning.add(head[0], head[1]);
  return { limited };
}
