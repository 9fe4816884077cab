import type { Song } from '@/core/model';
import { asSection, takeOut } from '@/core/weave';
import { saltmarshSignal } from './saltmarsh';
import { slackWater } from './slack';

/** Ids of shipped songs start so; songs of one's own never do. */
export const DEMO_PREFIX = 'demo-';

/** What a browser without songs starts with: the songs of a trio that rehearses in a lighthouse. */
export function demoSongs(): Song[] {
  return [saltmarshSignal(`${DEMO_PREFIX}saltmarsh`), slackWater(`${DEMO_PREFIX}slack`)];
}

/** A copy of a demo song as it was once. */
export interface DemoSavePoint {
  id: string;
  song: string;
  name: string;
  note: string;
  why: 'by hand';
  made: number;
  body: Song;
}

/**
 * The save points the first demo song comes with: before its choruses got their own kick and before its
 * joins were filled.
 * @param now milliseconds since 1970: they were made in the days before
 */
export function demoSavePoints(now: number): DemoSavePoint[] {
  const [song] = demoSongs();
  const plain = song.places
    .filter(({ overlay }) => overlay.length > 0)
    .reduce((body, { id }) => asSection(body, id), song);
  const chorus = plain.sections.find(({ kind }) => kind === 'chorus')!;
  const early = chorus.spans
    .filter(({ pieces }) => pieces !== 'all')
    .reduce((body, { id }) => takeOut(body, { of: 'section', id: chorus.id, span: id }), plain);
  const day = 24 * 60 * 60 * 1000;
  const point = (id: string, name: string, note: string, days: number, body: Song) => ({
    id: `${DEMO_PREFIX}${id}`,
    song: song.id,
    name,
    note,
    why: 'by hand' as const,
    made: now - days * day,
    body,
  });
  return [
    point('first-form', 'First form, no fills', 'The order is right; nothing joins yet.', 3, early),
    point('own-kick', 'Choruses with their kick', 'Rolling hull under every chorus.', 1, plain),
  ];
}
