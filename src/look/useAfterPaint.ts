import { useEffect, useRef, useState } from 'react';

/**
 * The value, a frame late: what shows it is drawn again only once the frame in which it changed is on
 * the screen. For what stands around the thing under the hands, which must never keep it waiting.
 * Unlike a deferred value, it costs that frame nothing at all.
 */
export function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
  const latest = useRef(value);
  const waits = useRef(false);
  useEffect(() => {
    latest.current = value;
    if (waits.current) return;
    waits.current = true;
    // A frame's callbacks run before it is painted, what a message brings after it.
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      waits.current = false;
      port1.close();
      setShown(() => latest.current);
    };
    requestAnimationFrame(() => port2.postMessage(null));
  }, [value]);
  return shown;
}
