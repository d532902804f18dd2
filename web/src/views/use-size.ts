import { type RefCallback, useCallback, useState } from "react";

export interface Size {
  width: number;
  height: number;
}

/** Measure an element, and again whenever it changes size. */
export function useSize<T extends Element>(): [RefCallback<T>, Size] {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const ref = useCallback((element: T | null) => {
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [ref, size];
}
