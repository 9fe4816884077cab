'use client';

import { Fault } from '@/shell/Fault';

export default function Failed({ error, reset }: { error: Error; reset: () => void }) {
  return <Fault error={error} retry={reset} />;
}
