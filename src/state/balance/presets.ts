import { useLiveQuery } from 'dexie-react-hooks';
import { nanoid } from 'nanoid';
import type { Command } from '@/core';
import { neutralStrip } from '@/core/model';
import { drumsOf, stripOf } from '@/core/tracks';
import { forgetPreset, keepPreset, keptPresets, type Preset } from '@/storage/kits';
import { notify } from '../notices/notices';
import { commitGesture, editOrSay, preview } from '../session/edit';
import { openSongNow } from '../store';

/** How tracks were mixed that was kept, by name. */
export function usePresets(): readonly Preset[] {
  return useLiveQuery(() => keptPresets().catch(() => []), []) ?? [];
}

/** Keeps how a track is mixed, or what all drums go through, under a name; one of that name is replaced. */
export async function keepAsPreset(name: string, track?: string): Promise<void> {
  const called = name.trim().slice(0, 120);
  if (!called) return notify('Give the preset a name first.', 'error');
  const song = openSongNow();
  const { tone, dynamics, drive } = drumsOf(song);
  const strip =
    track === undefined
      ? {
          ...neutralStrip('all'),
          ...(tone && { tone }),
          ...(dynamics && { dynamics }),
          ...(drive && { drive }),
        }
      : stripOf(song, track);
  const before = (await keptPresets()).find((one) => one.name === called);
  try {
    await keepPreset({ id: before?.id ?? nanoid(8), name: called, strip });
  } catch {
    return notify(
      'The preset could not be kept: this browser’s storage is full or closed.',
      'error',
    );
  }
  notify(`Kept as “${called}”${before ? ', in place of the one before' : ''}.`);
}

/** Mixes a track as it was kept; of all drums only tone, dynamics and drive are set. */
export function applyPreset({ name, strip }: Preset, track?: string): void {
  if (track !== undefined) {
    editOrSay({ type: 'copy strip', track, strip }, `preset “${name}”`);
    return;
  }
  const { tone, dynamics, drive = 0 } = strip;
  const commands: Command[] = [
    { type: 'set chain', ...(tone ? { tone } : { without: 'tone' }) },
    { type: 'set chain', ...(dynamics ? { dynamics } : { without: 'dynamics' }) },
    { type: 'set chain', drive },
  ];
  preview(commands, `preset “${name}”`);
  commitGesture();
}

export async function forgetKeptPreset(preset: Preset): Promise<void> {
  await forgetPreset(preset.id);
  notify(`“${preset.name}” is no longer kept.`, 'info', {
    label: 'keep it again',
    run: () => void keepPreset(preset),
  });
}
