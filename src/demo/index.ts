import type { Song } from '@/core';
import { saltmarshSignal } from './saltmarsh';
import { slackWater } from './slack';

/** Ids of shipped songs start so; songs of one's own never do. */
export const DEMO_PREFIX = 'demo-';

/** What a browser without songs starts with: the songs of a trio that rehearses in a lighthouse. */
export function demoSongs(): Song[] {
  return [saltmarshSignal(`${DEMO_PREFIX}saltmarsh`), slackWater(`${DEMO_PREFIX}slack`)];
}
