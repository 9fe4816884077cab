import { CHANNELS } from '@/core/time';

/** The sixteen MIDI channels as options of a `ChoiceField`: counted from 1, as they are on every front panel. */
export const CHANNEL_CHOICES = CHANNELS.map(
  (channel) => [String(channel), String(channel + 1)] as const,
);
