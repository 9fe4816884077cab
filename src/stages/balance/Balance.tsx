'use client';

import { NotBuilt } from '@/look/NotBuilt';

/** Sounds and levels: to come. */
export function Balance() {
  return (
    <NotBuilt
      title="Balance"
      sentence="Here you will choose and tune the sounds of the kit, and set level, place, tone and room of every track."
    />
  );
}
