import { useEffect, useState, type RefObject } from 'react';

interface Square {
  side: number;
  x: number;
  y: number;
}

export interface SheetLook {
  /** Of the frame, in pixels. */
  size: { w: number; h: number };
  /** The first sheet, in pixels of the frame. */
  square(): Square;
  toScreen(u: number, v: number): [number, number];
  toUv(x: number, y: number): [number, number];
  /** Where a pointer is in the frame. */
  place(e: { clientX: number; clientY: number }): [number, number];
  /** By so many pixels. */
  pan(x: number, y: number): void;
  /** All of it is seen again. */
  whole(): void;
}

/** Left free beside the sheets, above and below them, in pixels. */
const ASIDE = 52;
const BESIDE = 190;
const TOP = 36;
const LEAST = 40;
const NEAR = 0.2;
const FAR = 64;

/** How the sheets are seen in their frame: near or far, and where. The wheel zooms to the pointer. */
export function useLook(frame: RefObject<HTMLElement | null>, sheets: number): SheetLook {
  const [size, setSize] = useState({ w: 1, h: 1 });
  const [look, setLook] = useState({ zoom: 1, x: 0, y: 0 });
  useEffect(() => {
    const o = new ResizeObserver(() => {
      const r = frame.current!.getBoundingClientRect();
      setSize({ w: r.width, h: r.height });
    });
    o.observe(frame.current!);
    return () => o.disconnect();
  }, [frame]);

  const sideAt = (zoom: number): number => Math.max(LEAST, Math.min((size.w - ASIDE) / sheets, size.h - BESIDE)) * zoom;
  /** Where the first sheet stands without having been moved. */
  const home = (side: number): [number, number] => [(size.w - side * sheets) / 2, (size.h - 90 - side) / 2 + TOP];
  const square = (): Square => {
    const side = sideAt(look.zoom);
    const [x, y] = home(side);
    return { side, x: x + look.x, y: y + look.y };
  };
  const toUv = (x: number, y: number): [number, number] => {
    const q = square();
    return [(x - q.x) / q.side, 1 - (y - q.y) / q.side];
  };
  const place = (e: { clientX: number; clientY: number }): [number, number] => {
    const r = frame.current!.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };

  const wheel = (e: WheelEvent): void => {
    e.preventDefault();
    const [x, y] = place(e);
    const [u, v] = toUv(x, y);
    setLook((l) => {
      const zoom = Math.max(NEAR, Math.min(FAR, l.zoom * Math.exp(-e.deltaY * 0.0012)));
      const side = sideAt(zoom);
      const [hx, hy] = home(side);
      return { zoom, x: x - u * side - hx, y: y - (1 - v) * side - hy };
    });
  };
  useEffect(() => {
    const el = frame.current!;
    el.addEventListener('wheel', wheel, { passive: false });
    return () => el.removeEventListener('wheel', wheel);
  });

  return {
    size,
    square,
    toScreen: (u, v) => {
      const q = square();
      return [q.x + u * q.side, q.y + (1 - v) * q.side];
    },
    toUv,
    place,
    pan: (x, y) => setLook((l) => ({ ...l, x: l.x + x, y: l.y + y })),
    whole: () => setLook({ zoom: 1, x: 0, y: 0 }),
  };
}
