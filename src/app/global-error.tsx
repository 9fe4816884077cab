'use client';

import { Fault } from '@/shell/Fault';

/** Where even the frame around all pages could not be drawn. */
export default function Failed({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <html lang="en">
      <body>
        <Fault error={error} retry={reset} />
      </body>
    </html>
  );
}
