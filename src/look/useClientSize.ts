import { useEffect, useState, type RefObject } from 'react';

/** The room inside an element, without scrollbars, in pixels; 0 by 0 until it is known. */
export function useClientSize(element: RefObject<HTMLElement | null>) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const { current } = element;
    if (!current) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: current.clientWidth, height: current.clientHeight }),
    );
    observer.observe(current);
    return () => observer.disconnect();
  }, [element]);
  return size;
}
