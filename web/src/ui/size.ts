import { useEffect, useState, type RefObject } from "react";

/** The inner size of an element, in CSS pixels, as it is now; what is given until it is there. */
export function useSize(box: RefObject<HTMLElement | null>, first: { width: number; height: number }): { width: number; height: number } {
  const [size, setSize] = useState(first);
  useEffect(() => {
    const look = () => box.current && setSize({ width: box.current.clientWidth, height: box.current.clientHeight });
    const observer = new ResizeObserver(look);
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, [box]);
  return size;
}
