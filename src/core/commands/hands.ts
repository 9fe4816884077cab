import { HIT_LIMITS, SWING_LIMITS, type Limits } from '../model/limits';
import { findPiece, pieceOf } from '../model/pieces';
import type { Pattern } from '../model/song';
import { setCycle } from '../pattern/cycle';
import { applyFeel } from '../pattern/feel';
import { humanize } from '../pattern/humanize';
import { LANES, randomLane } from '../pattern/lanes';
import { layBack, straighten } from '../pattern/nudge';
import * as ornament from '../pattern/ornament';
import { quantize } from '../pattern/quantize';
import * as thin from '../pattern/thin';
import * as turn from '../pattern/turn';
import * as velocity from '../pattern/velocity';
import { alternateWays, revoice } from '../pattern/voice';

/** One thing a drummer's hands can do to the chosen hits of a pattern. */
interface Hand<O extends object> {
  run: (pattern: Pattern, ids: ReadonlySet<string>, options: O) => Pattern;
  /** What each number may be, both ends allowed. Values out of it are refused. */
  limits: { [K in keyof O as O[K] extends number ? K : never]: Limits };
  /** Why it cannot apply here, where there is more to say than "nothing changed". */
  why?: (pattern: Pattern, ids: ReadonlySet<string>, options: O) => string | undefined;
}

const hand = <O extends object>(
  run: Hand<O>['run'],
  limits: Hand<O>['limits'],
  why?: Hand<O>['why'],
): Hand<O> => ({ run, limits, why });

const VELOCITY = HIT_LIMITS.velocity;
const PERCENT: Limits = [0, 100];
const SEED: Limits = [0, 0xffffffff];

/** Everything that is done to chosen hits, by the name that undo shows. */
export const HANDS = {
  'set velocity to': hand(velocity.setVelocity, { velocity: VELOCITY }),
  'scale velocity': hand(velocity.scaleVelocity, { percent: [0, 200] }),
  'ramp velocity': hand(velocity.rampVelocity, { from: VELOCITY, to: VELOCITY }),
  'level velocity': hand(velocity.levelVelocity, { percent: PERCENT }),
  'spread velocity': hand(velocity.spreadVelocity, { percent: [0, 200] }),
  'random velocity': hand(velocity.randomVelocity, { low: VELOCITY, high: VELOCITY, seed: SEED }),
  'alternate hands': hand(velocity.alternateHands, { softer: [0, 90] }),
  'accent steps': hand(
    velocity.accentSteps,
    { louder: [0, 126], softer: [0, 126] },
    (_, __, { steps }) =>
      velocity.ACCENT_STEPS.test(steps)
        ? undefined
        : 'Write the accents as 2 to 16 steps of x and dots with an x among them, as in “x..x..”.',
  ),
  'ghost the off-beats': hand(
    velocity.ghostOffBeats,
    { velocity: VELOCITY },
    () => 'All chosen hits are on the beat, or are as soft already.',
  ),

  quantize: hand(quantize, {
    strength: PERCENT,
    grid: [0, 3840],
    swing: SWING_LIMITS,
    window: [0, 3840],
  }),
  humanize: hand(humanize, {
    timing: [0, 480],
    velocity: [0, 64],
    bias: [-100, 100],
    seed: SEED,
  }),
  'push or lay back': hand(layBack, { by: [-960, 960] }),
  straighten: hand(straighten, { percent: PERCENT }),
  'apply feel': hand(
    applyFeel,
    { percent: PERCENT },
    (_, __, { feel }) =>
      `“${feel.name}” says nothing about the steps of the chosen hits, or they are played so already.`,
  ),

  revoice: hand(revoice, {}, (_, __, { piece }) =>
    findPiece(piece) ? undefined : `There is no kit piece “${piece}”.`,
  ),
  'alternate articulations': hand(alternateWays, {}, (pattern, ids) => {
    const pieces = pattern.strands.filter(({ hits }) => hits.some((hit) => ids.has(hit.id)));
    const single = pieces.find(({ piece }) => pieceOf(piece).articulations.length < 2);
    return single && `${pieceOf(single.piece).name} can be struck one way only.`;
  }),

  rotate: hand(turn.rotate, { steps: [-1024, 1024] }),
  reverse: hand<object>(turn.reverse, {}),
  mirror: hand<object>(turn.mirror, {}),
  'half time': hand<object>(turn.halfTime, {}, (pattern, ids) =>
    turn.roomToStretch(pattern, ids)
      ? undefined
      : 'There is no room: the pattern would have to be longer, or what is chosen shorter.',
  ),
  'double time': hand<object>(turn.doubleTime, {}),
  'thin to every n-th': hand(thin.thinEvery, { every: [2, 16] }),
  'thin out the softest': hand(thin.thinSoftest, { percent: PERCENT }),
  'fill the gaps': hand(
    thin.densify,
    { percent: PERCENT },
    () => 'There is no empty step between the chosen hits. A finer step rate makes room.',
  ),

  flam: hand(ornament.setFlam, { strokes: [1, 2], lead: HIT_LIMITS.lead, softness: [0, 1] }),
  burst: hand(ornament.setBurst, { strokes: HIT_LIMITS.burst, slope: [-1, 1] }),
  choke: hand(ornament.setChoke, { after: [10, 15_360] }),
  'reverse the sound': hand<object>(ornament.turnReverse, {}),
  'take ornaments off': hand(ornament.plain, {}, () => 'The chosen hits are plain already.'),
  cycle: hand(setCycle, { of: [1, HIT_LIMITS.cycle[1]] }, (_, __, { on }) =>
    on.length === 0 ? 'Choose at least one pass on which the hits sound.' : undefined,
  ),
  'random values': hand(
    randomLane,
    { low: [-9600, 9600], high: [-9600, 9600], seed: SEED },
    (_, __, { lane, low, high }) => {
      const { name, limits } = LANES[lane];
      const within = [low, high].every((value) => value >= limits[0] && value <= limits[1]);
      return within ? undefined : `${name} must be ${limits[0]} to ${limits[1]}.`;
    },
  ),
} as const;

export type HandName = keyof typeof HANDS;

/** What a hand has to be told. */
export type OptionsOf<K extends HandName> = Parameters<(typeof HANDS)[K]['run']>[2];

/** A hand at work on some hits of a pattern. */
export type HandCommand = {
  [K in HandName]: { type: K; ids: readonly string[]; options: OptionsOf<K> };
}[HandName];

export function isHandCommand(command: { type: string }): command is HandCommand {
  return Object.hasOwn(HANDS, command.type);
}

/** A hand with its options, as values of whatever hand it is. */
function handOf(command: HandCommand) {
  return HANDS[command.type] as unknown as Hand<Record<string, unknown>>;
}

/** The pattern after the hand; the very same where an option is out of its limits. */
export function workByHand(pattern: Pattern, command: HandCommand): Pattern {
  const { run } = handOf(command);
  const ids = new Set(command.ids);
  if (ids.size === 0 || outOfLimits(command)) return pattern;
  return run(pattern, ids, command.options as Record<string, unknown>);
}

/** Why a hand changed nothing, as a sentence that says what to do. */
export function whyNothing(pattern: Pattern, command: HandCommand): string {
  const ids = new Set(command.ids);
  const there = pattern.strands.some(({ hits }) => hits.some((hit) => ids.has(hit.id)));
  if (!there)
    return 'Nothing is selected. Select hits first: drag with Shift, or press R for a row.';
  return (
    outOfLimits(command) ??
    handOf(command).why?.(pattern, ids, command.options as Record<string, unknown>) ??
    'That would leave the chosen hits as they are.'
  );
}

function outOfLimits(command: HandCommand): string | undefined {
  const limits = handOf(command).limits as Record<string, Limits>;
  for (const [name, [low, high]] of Object.entries(limits)) {
    const value = (command.options as Record<string, unknown>)[name];
    if (typeof value !== 'number' || !(value >= low && value <= high)) {
      return `${name} must be ${low} to ${high}.`;
    }
  }
  return undefined;
}
