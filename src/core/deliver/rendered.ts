import {
  compileDesk,
  compileScore,
  LONGEST_TAIL,
  notesIn,
  Rendering,
  scoreWithin,
  TruePeakMeter,
  type DeskTable,
} from '../engine';
import type { SoundId } from '../model';
import { LoudnessMeter, type KitSound } from '../sound';
import { drumsOf, levelOf } from '../tracks';
import type { Decibels, Hertz, Samples, Seconds } from '../time';
import { tempoOfSong } from '../weave';
import type { AudioPart } from './audio';
import type { Encoding } from './encoding';
import { LoopLimiter } from './loopLimiter';

/** So much is rendered at once. */
const PIECE: Seconds = 1;

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
type RenderedPart = Played & Pick<AudioPart, 'seconds' | 'ending'>;

const scoreOf = ({ song, within }: Pick<Played, 'song' | 'within'>) =>
  within ? scoreWithin(compileScore(song), within) : compileScore(song);

/** A song, or what is meant of it, as it is rendered for a file. */
function renderingOf(
  played: Played,
  { sampleRate, sounds }: RenderForm,
  { to, unlimited = false }: { to?: Seconds; unlimited?: boolean } = {},
) {
  const { song, click, within } = played;
  return new Rendering(scoreOf(played), {
    sampleRate,
    sounds,
    click,
    desk: unlimited ? withoutLimiter(compileDesk(song)) : compileDesk(song),
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
const LOUDEST: Decibels = -0.1;
const CEILING = levelOf(LOUDEST);

/** A desk that lets everything pass, however loud it is. */
const withoutLimiter = (desk: DeskTable): DeskTable => ({
  ...desk,
  drums: { ...desk.drums, ceiling: Infinity },
});

/** The factor that brings a part to the level that is wished for, 1 where none is. */
export interface Gain {
  gain: number;
  /** Decibels by which it stays under the level that was asked for, as it would be over full scale otherwise. */
  short: Decibels;
}

/** How a part comes to the level that is wished for: the mix, and stems that must fit, are listened to whole. */
export async function gainOf(part: AudioPart, form: RenderForm): Promise<Gain> {
  const { measured, seconds, ending } = part;
  if (!measured) return { gain: 1, short: 0 };
  const { by, target, stems = [] } = measured;
  const meter = new LoudnessMeter(form.sampleRate);
  const peaks: number[] = [];
  const all = [measured, ...stems];
  for (const [n, { song, click }] of all.entries()) {
    const meant = new TruePeakMeter();
    const listening: Encoding = {
      add(left, right) {
        if (by === 'loudness' && n === 0) meter.process(left, right, left.length);
        meant.add(left, right);
      },
    };
    await renderPart(
      { song, click, seconds, ending },
      { ...form, report: (share) => form.report?.((n + share) / all.length) },
      { encoding: listening, beginning: listening },
    );
    peaks.push(meant.peak);
  }
  const most = Math.max(...peaks);
  if (most === 0) return { gain: 1, short: 0 };
  const wished = {
    peak: levelOf(target) / peaks[0],
    loudness: levelOf(target - meter.integrated),
    fit: 1,
  }[by];
  if (!Number.isFinite(wished)) return { gain: 1, short: 0 };
  const ceiling = by === 'peak' ? Math.max(CEILING, levelOf(target)) : CEILING;
  const gain = Math.min(wished, ceiling / most);
  return { gain, short: 20 * Math.log10(wished / gain) };
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
  part: RenderedPart,
  form: RenderForm,
  { encoding, beginning, gain = 1 }: { encoding: Encoding; beginning: Encoding; gain?: number },
): Promise<Rendered> {
  const { seconds, ending } = part;
  const { sampleRate, report } = form;
  const body = Math.round(seconds * sampleRate);
  if (ending === 'loop' && body > 0) return renderLoop(part, form, { encoding, beginning, gain });
  const rendering = renderingOf(part, form, ending === 'bar' ? { to: seconds } : {});
  let at = 0;
  for (const [left, right, frames] of piecesOf(rendering, sampleRate)) {
    const sides = [left, right].map((side) => amplified(side.subarray(0, frames), gain));
    await encoding.add(sides[0], sides[1]);
    at += frames;
    report?.(Math.min(1, at / Math.max(1, body)));
  }
  return { limited: rendering.takeLimited() };
}

function amplified(side: Float32Array, gain: number): Float32Array {
  if (gain !== 1) for (let i = 0; i < side.length; i++) side[i] *= gain;
  return side;
}

/**
 * Renders a loop. What rings over its end is added to its beginning before the limiter, which therefore holds
 * the sum under the ceiling; it goes round the loop, and so comes to the beginning as the end left it.
 */
async function renderLoop(
  part: RenderedPart,
  form: RenderForm,
  { encoding, beginning, gain }: { encoding: Encoding; beginning: Encoding; gain: number },
): Promise<Rendered> {
  const { sampleRate, report } = form;
  const { ceiling } = drumsOf(part.song);
  const rendering = renderingOf(part, form, { unlimited: true });
  const body = Math.round(part.seconds * sampleRate);
  const held = heldBack(part, sampleRate);
  const head = [new Float32Array(held), new Float32Array(held)];
  // Samples are turned up before this limiter, so its ceiling is turned up with them.
  const out = new LoopLimiter(sampleRate, ceiling + 20 * Math.log10(gain));
  let at = 0;
  for (const [left, right, frames] of piecesOf(rendering, sampleRate)) {
    const sides = [left, right].map((side) => amplified(side.subarray(0, frames), gain));
    const first = Math.min(frames, Math.max(0, held - at));
    const last = Math.max(0, Math.min(frames, body - at));
    sides.forEach((side, n) => {
      for (let i = 0; i < first; i++) head[n][at + i] += side[i];
      // A short loop comes round again before what rings has ended.
      for (let i = last; i < frames; i++) head[n][(at + i - body) % body] += side[i];
    });
    // The head is written last but plays first: the limiter hears it before the rest.
    if (first > 0) out.prime(sides[0].subarray(0, first), sides[1].subarray(0, first));
    if (last > first)
      await out.add(sides[0].subarray(first, last), sides[1].subarray(first, last), encoding);
    at += frames;
    report?.(Math.min(1, at / Math.max(1, body)));
  }
  // What is shorter than its last bar is silent up to it.
  const missing = body - Math.max(at, held);
  if (missing > 0) await out.add(new Float32Array(missing), new Float32Array(missing), encoding);
  if (held === body) {
    // Of a short loop nothing was put out yet: it goes round once before it is.
    out.prime(head[0], head[1]);
  }
  await out.turn(head[0], head[1], encoding, beginning);
  return { limited: out.limited };
}
