import { useRef, useState } from 'react';
import type { Brush, Dab } from '../../../core/uv/edits/brush';
import { session } from '../session';
import { say } from '../store';

let strokes = 0;
/** A dab is made whenever the pointer has gone on by this share of the radius. */
const STEP = 0.2;

export interface BrushNow {
  brush: Brush;
  /** In sheets. */
  radius: number;
}

interface StrokeNow {
  id: number;
  brush: Brush;
  face: number;
  at: [number, number];
  dabs: Dab[];
  busy: boolean;
  over: boolean;
  faces: Uint32Array;
  uv: Float32Array;
}

/**
 * Strokes of the brush: made in the helper, what comes of them shown as they go, and kept when the pointer comes up.
 */
export function useBrush(commit: (faces: number[], at: Float32Array) => void): {
  now: BrushNow;
  set: (now: BrushNow) => void;
  /** Where the corners lie while a stroke goes on. */
  live: () => Float32Array | undefined;
  begin: (face: number, at: [number, number], uv: Float32Array) => void;
  move: (at: [number, number]) => boolean;
  end: () => void;
} {
  const [now, set] = useState<BrushNow>({ brush: 'grab', radius: 0.06 });
  const [, redraw] = useState(0);
  const stroke = useRef<StrokeNow | null>(null);
  const send = async (): Promise<void> => {
    const s = stroke.current;
    if (!s || s.busy) return;
    s.busy = true;
    try {
      while (s.dabs.length > 0 && stroke.current === s) {
        const dabs = s.dabs.splice(0);
        const found = await session.crew?.askNow('brush', { stroke: s.id, brush: s.brush, face: s.face, dabs });
        if (!found) break;
        s.faces = found.faces;
        s.uv = s.uv.slice();
        found.corners.forEach((c, i) => s.uv.set(found.uv.subarray(2 * i, 2 * i + 2), 2 * c));
        redraw((n) => n + 1);
      }
      if (s.over && stroke.current === s) {
        stroke.current = null;
        if (s.faces.length > 0) commit([...s.faces], s.uv);
      }
    } catch (e) {
      stroke.current = null;
      say((e as Error).message);
    }
    s.busy = false;
  };
  const dab = (s: StrokeNow, to: [number, number]): void => {
    const [du, dv] = [to[0] - s.at[0], to[1] - s.at[1]];
    s.dabs.push({ u: s.at[0], v: s.at[1], radius: now.radius, du, dv, strength: s.brush === 'grab' ? 1 : 0.5 });
    s.at = to;
    void send();
  };
  return {
    now,
    set,
    live: () => stroke.current?.uv,
    begin: (face, at, uv) => {
      if (stroke.current) return;
      const s: StrokeNow = {
        ...{ id: ++strokes, brush: now.brush, face, at, uv },
        ...{ dabs: [], busy: false, over: false, faces: new Uint32Array(0) },
      };
      stroke.current = s;
      // A press alone is a dab, but for grabbing, which needs a way.
      if (s.brush !== 'grab') dab(s, at);
    },
    move: (at) => {
      const s = stroke.current;
      if (!s || s.over) return false;
      const least = s.brush === 'grab' ? 0 : STEP * now.radius;
      if (Math.hypot(at[0] - s.at[0], at[1] - s.at[1]) > least) dab(s, at);
      return true;
    },
    end: () => {
      const s = stroke.current;
      if (!s) return;
      s.over = true;
      void send();
    },
  };
}
