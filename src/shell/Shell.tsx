'use client';

import dynamic from 'next/dynamic';
import { useEffect, type ReactNode } from 'react';
import { setPlatform } from '@/state/platform';
import { setNavigator } from '@/state/addresses';
import { DropAnywhere } from './DropAnywhere';
import { useFirstViewShown } from './firstView';
import { keepVersion } from './installed';
import { page } from './page';

setPlatform(page);

const Tools = dynamic(() => import('./Tools').then((module) => module.Tools), { ssr: false });

/** What is there on every screen: keys, palette, notices, and files dropped anywhere. */
export function Shell({ children }: { children: ReactNode }) {
  const shown = useFirstViewShown();
  // The router hears of it, and asks the server for nothing.
  useEffect(() => setNavigator((path) => window.history.pushState(null, '', path)), []);
  useEffect(keepVersion, []);
  return (
    <>
      <DropAnywhere>{children}</DropAnywhere>
      {shown && <Tools />}
    </>
  );
}
