import {
  DYNAMICS_LIMITS,
  TONE_LIMITS,
  type Dynamics,
  type FilterSetting,
  type Tone,
  type ToneBand,
  type ToneSetting,
} from '../model';

/** What a track, or all drums together, are heard through. */
export interface Chain {
  tone?: Tone;
  dynamics?: Dynamics;
  /** 0 to 1. */
  drive?: number;
}

/** What dynamics begin with. */
export const FIRST_DYNAMICS: Dynamics = {
  threshold: -18,
  ratio: 3,
  attack: 0.01,
  release: 0.12,
  gain: 0,
};

/** Where each band works before anyone moves it. */
export const USUAL_TONE: Readonly<Record<ToneBand, ToneSetting>> = {
  cut: { frequency: 20, gain: 0 },
  low: { frequency: 110, gain: 0 },
  mid: { frequency: 900, gain: 0 },
  high: { frequency: 6500, gain: 0 },
};

const KINDS = { cut: 'highpass', low: 'lowshelf', mid: 'peak', high: 'highshelf' } as const;
/** How narrow each band is. */
const Q: Readonly<Record<ToneBand, number>> = { cut: 0.707, low: 0.707, mid: 1, high: 0.707 };

/** The filters that a tone is heard through; a band that does nothing is none. */
export function filtersOf(tone: Tone | undefined): FilterSetting[] {
  if (!tone) return [];
  return (Object.keys(KINDS) as ToneBand[]).flatMap((band): FilterSetting[] => {
    const setting = tone[band];
    if (!setting) return [];
    const { frequency, gain } = setting;
    const idle = band === 'cut' ? frequency <= USUAL_TONE.cut.frequency : gain === 0;
    if (idle) return [];
    return [{ kind: KINDS[band], frequency, q: Q[band], ...(band !== 'cut' && { gain }) }];
  });
}

const within = (value: number, [low, high]: readonly [number, number]) =>
  Math.max(low, Math.min(high, value));

/** The tone of a track with one band moved, within what it reaches. */
export function withBand({ tone }: Chain, band: ToneBand, to: Partial<ToneSetting>): Tone {
  const before = tone?.[band] ?? USUAL_TONE[band];
  const frequency = within(to.frequency ?? before.frequency, TONE_LIMITS.frequency);
  const gain = band === 'cut' ? 0 : within(to.gain ?? before.gain, TONE_LIMITS.gain);
  return { ...tone, [band]: { frequency, gain } };
}

/** Dynamics with some of it changed, within what it reaches. */
export function withDynamics(
  { dynamics = FIRST_DYNAMICS }: Chain,
  to: Partial<Dynamics>,
): Dynamics {
  const after = { ...dynamics, ...to };
  const names = Object.keys(DYNAMICS_LIMITS) as (keyof Dynamics)[];
  return Object.fromEntries(
    names.map((name) => [name, within(after[name], DYNAMICS_LIMITS[name])]),
  ) as unknown as Dynamics;
}
