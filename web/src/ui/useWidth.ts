import { type RefObject, useLayoutEffect, useRef, useState } from "react";

/** How many pixels there are for a picture in an element, which is to be given the reference. */
export function useWidth<T extends HTMLElement>(first: number): [RefObject<T | null>, number] {
  const holder = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    if (!holder.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.floor(entry.contentRect.width)));
    observer.observe(holder.current);
    return () => observer.disconnect();
  }, []);
  return [holder, width];
}
