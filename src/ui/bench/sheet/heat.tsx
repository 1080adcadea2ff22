'use client';
/** The sheet in colours: how far faces are stretched, or how dense they are. */
import { useEffect, useState } from 'react';
import type { Mesh } from '../../../core/mesh';
import type { FaceLook } from '../../../core/uv/look';
import { session } from '../session';
import { say } from '../store';

export type HeatOf = 'nothing' | 'stretch' | 'density';

export interface Heat {
  of: Exclude<HeatOf, 'nothing'>;
  look: FaceLook;
  /** From the lowest to the highest. */
  colours: readonly string[];
  lo: number;
  hi: number;
}

const BANDS = 16;
/**
 * From what is as it should be, sea green, to what is not: sand, then rust. Of densities the middle is as it should.
 */
const STRETCH = [
  [62, 128, 112],
  [222, 200, 140],
  [168, 64, 47],
];
const DENSITY = [
  [58, 84, 128],
  [62, 128, 112],
  [168, 64, 47],
];

function ramp(stops: readonly (readonly number[])[]): string[] {
  return Array.from({ length: BANDS }, (_, i) => {
    const t = (i / (BANDS - 1)) * (stops.length - 1);
    const k = Math.min(stops.length - 2, Math.floor(t));
    return `rgb(${[0, 1, 2].map((q) => Math.round(stops[k][q] + (stops[k + 1][q] - stops[k][q]) * (t - k))).join(' ')})`;
  });
}

/** Stretch from 1 to 1.5; densities from half the middle one to twice. */
function heatFrom(of: Heat['of'], look: FaceLook): Heat {
  if (of === 'stretch') return { of, look, colours: ramp(STRETCH), lo: 1, hi: 1.5 };
  const sorted = look.density.filter((x) => x > 0).sort();
  const middle = sorted[sorted.length >> 1] || 1;
  return { of, look, colours: ramp(DENSITY), lo: middle / 2, hi: middle * 2 };
}

/** Which of the colours a face has. */
export function bandOf({ of, look, lo, hi }: Heat, face: number): number {
  const x = look[of][face];
  const t = of === 'density' ? Math.log(x / lo) / Math.log(hi / lo) : (x - lo) / (hi - lo);
  return Math.max(0, Math.min(BANDS - 1, Math.round(t * (BANDS - 1)) || 0));
}

/** Asked of the worker again whenever the layout is another. */
export function useHeat(of: HeatOf, mesh: Mesh | null, uv: Float32Array | undefined): Heat | null {
  const [found, setFound] = useState<{ heat: Heat; uv: Float32Array } | null>(null);
  useEffect(() => {
    if (of === 'nothing' || !mesh || !uv) return undefined;
    let gone = false;
    session.crew?.ask('sheetLook', {}).then(
      (look) => {
        if (!gone && look.stretch.length === mesh.faceCount) setFound({ heat: heatFrom(of, look), uv });
      },
      (e: Error) => say(e.message),
    );
    return () => {
      gone = true;
    };
  }, [of, mesh, uv]);
  return of !== 'nothing' && found?.uv === uv && found?.heat.of === of ? found.heat : null;
}

export function Legend({ heat, texels }: { heat: Heat; texels: number }) {
  const told = (x: number): string =>
    heat.of === 'density' ? `${Math.round(x * texels).toLocaleString('en')} / m` : x.toFixed(1);
  return (
    <div
      className="mt-1 flex items-center gap-1.5 text-[11px]"
      role="img"
      aria-label={`From ${told(heat.lo)} to ${told(heat.hi)}`}
    >
      <span className="num">{told(heat.lo)}</span>
      <span className="h-2 w-28 rounded" style={{ background: `linear-gradient(90deg, ${heat.colours.join(', ')})` }} />
      <span className="num">{heat.of === 'stretch' ? `${told(heat.hi)} and more` : told(heat.hi)}</span>
    </div>
  );
}
