import { useEffect, useState } from 'react';

let shown!: () => void;

/** Settles once what was asked for is on screen: whatever else there is may be loaded from then on. */
export const firstView = new Promise<void>((done) => (shown = done));

/** Says that what was asked for is on screen, or will not be. */
export const firstViewShown = (): void => shown();

/** Whether that is so. */
export function useFirstViewShown(): boolean {
  const [is, setIs] = useState(false);
  useEffect(() => void firstView.then(() => setIs(true)), []);
  return is;
}
