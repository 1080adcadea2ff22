/**
 * A curve through points, straight or smooth between them; beyond its ends it stays. The smooth one never runs over the
 * values of the two points it goes between: monotone cubics (Fritsch & Carlson, SIAM J. Numer. Anal. 17, 1980).
 */
export type RampPoints = readonly (readonly [number, number])[];

/** What is nearer than this is a jump: a slope over less would be no number. */
const JUMP = 1e-9;

/** Slopes at the points of a smooth ramp. */
function slopes(p: RampPoints): number[] {
  const n = p.length;
  const rise = p.slice(1).map(([x, y], i) => (x - p[i][0] > JUMP ? (y - p[i][1]) / (x - p[i][0]) : 0));
  const out = p.map((_, i) => {
    if (i === 0 || i === n - 1) return rise[i === 0 ? 0 : n - 2] ?? 0;
    return rise[i - 1] * rise[i] <= 0 ? 0 : (rise[i - 1] + rise[i]) / 2;
  });
  rise.forEach((d, i) => {
    if (d === 0) {
      out[i] = 0;
      out[i + 1] = 0;
      return;
    }
    const [a, b] = [out[i] / d, out[i + 1] / d];
    const far = a * a + b * b;
    if (far <= 9) return;
    const t = 3 / Math.sqrt(far);
    out[i] = t * a * d;
    out[i + 1] = t * b * d;
  });
  return out;
}

/**
 * A ramp made ready: points sorted along x; of two at one place the later is where it jumps to. No points: 0
 * everywhere.
 */
export function rampThrough(points: RampPoints, smooth: boolean): (x: number) => number {
  const p = [...points].sort((a, b) => a[0] - b[0]);
  const n = p.length;
  if (n === 0) return () => 0;
  const m = smooth ? slopes(p) : [];
  return (x) => {
    if (!(x > p[0][0])) return p[0][1];
    if (x >= p[n - 1][0]) return p[n - 1][1];
    let k = 1;
    while (x >= p[k][0]) k++;
    const [x0, y0] = p[k - 1];
    const [x1, y1] = p[k];
    const span = x1 - x0;
    const t = (x - x0) / span;
    if (!smooth || span <= JUMP) return y0 + (y1 - y0) * t;
    const u = 1 - t;
    return (1 + 2 * t) * u * u * y0 + t * u * u * span * m[k - 1] + t * t * (3 - 2 * t) * y1 - t * t * u * span * m[k];
  };
}
