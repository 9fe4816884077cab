import {
  TONE_LIMITS,
  type FilterSetting,
  type StripSetting,
  type Tone,
  type ToneBand,
  type ToneSetting,
} from '../model';

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

/** The tone of a strip with one band moved, within what it reaches. */
export function withBand({ tone }: StripSetting, band: ToneBand, to: Partial<ToneSetting>): Tone {
  const before = tone?.[band] ?? USUAL_TONE[band];
  const frequency = within(to.frequency ?? before.frequency, TONE_LIMITS.frequency);
  const gain = band === 'cut' ? 0 : within(to.gain ?? before.gain, TONE_LIMITS.gain);
  return { ...tone, [band]: { frequency, gain } };
}
