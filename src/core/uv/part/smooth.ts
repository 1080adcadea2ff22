/**
 * Borders between patches drawn smooth: each face's belonging is spread to its neighbours some rounds, and goes to what
 * it has most of then (the threshold dynamics of Merriman, Bence & Osher, 1994). It spreads less over edges that are
 * cheap to cut, so borders stay in creases.
 */
import { EVERY, pulse } from '../../math/pulse';
import type { Parting } from '../flatten/patch';

/** Patches that a face may belong to in part. */
const SLOTS = 3;

/**
 * Changes the labels of faces near borders. `weigh`: how well belonging goes over an edge, for its length; none goes
 * over `shut` ones.
 */
export function smoothBorders(
  parting: Parting,
  rounds: number,
  weigh: (edge: number) => number,
  shut: Uint8Array,
): void {
  const { mesh, label } = parting;
  const { faceCount } = mesh;
  const band = bandOf(parting, Math.ceil(1.5 * Math.sqrt(rounds)) + 1);
  if (band.length === 0) return;
  const names = new Int32Array(SLOTS * faceCount).fill(-1);
  const values = new Float32Array(SLOTS * faceCount);
  for (let f = 0; f < faceCount; f++) {
    names[SLOTS * f] = label[f];
    values[SLOTS * f] = 1;
  }
  const { start, to, weight } = neighbours(parting, band, weigh, shut);
  const nextNames = new Int32Array(SLOTS * band.length);
  const nextValues = new Float32Array(SLOTS * band.length);
  const found = new Int32Array(64);
  const sums = new Float64Array(64);
  for (let round = 0; round < rounds; round++) {
    for (let i = 0; i < band.length; i++) {
      if ((i & EVERY) === 0) pulse();
      let n = 0;
      let all = 0;
      for (let p = start[i]; p < start[i + 1]; p++) {
        const w = weight[p];
        all += w;
        for (let k = SLOTS * to[p], end = k + SLOTS; k < end && names[k] >= 0; k++) {
          let at = 0;
          while (at < n && found[at] !== names[k]) at++;
          if (at === n) {
            if (n === found.length) continue;
            found[n] = names[k];
            sums[n++] = 0;
          }
          sums[at] += w * values[k];
        }
      }
      for (let k = SLOTS * i; k < SLOTS * i + SLOTS; k++) {
        let best = -1;
        for (let at = 0; at < n; at++) if (sums[at] > 0 && (best < 0 || sums[at] > sums[best])) best = at;
        nextNames[k] = best < 0 ? -1 : found[best];
        nextValues[k] = best < 0 ? 0 : sums[best] / all;
        if (best >= 0) sums[best] = 0;
      }
    }
    for (let i = 0; i < band.length; i++)
      for (let k = 0; k < SLOTS; k++) {
        names[SLOTS * band[i] + k] = nextNames[SLOTS * i + k];
        values[SLOTS * band[i] + k] = nextValues[SLOTS * i + k];
      }
  }
  for (const f of band) label[f] = names[SLOTS * f];
}

/** For each face of a band the faces that belonging comes from, itself the last of them, and how much of it. */
function neighbours(
  parting: Parting,
  band: readonly number[],
  weigh: (edge: number) => number,
  shut: Uint8Array,
): { start: Int32Array; to: Int32Array; weight: Float64Array } {
  const { mesh, t } = parting;
  const { faceStart } = mesh;
  const start = new Int32Array(band.length + 1);
  band.forEach((f, i) => (start[i + 1] = start[i] + faceStart[f + 1] - faceStart[f] + 1));
  const to = new Int32Array(start[band.length]);
  const weight = new Float64Array(to.length);
  let n = 0;
  band.forEach((f, i) => {
    let all = 0;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = parting.across(c);
      const e = t.cornerEdge[c];
      if (o < 0) continue;
      // What does not go out stays.
      to[n] = shut[e] ? f : t.cornerFace[o];
      weight[n] = weigh(e);
      all += weight[n++];
    }
    to[n] = f;
    weight[n++] = all > 0 ? all : 1;
    start[i + 1] = n;
  });
  return { start, to, weight };
}

/** Faces within so many steps of a border between patches. */
function bandOf(parting: Parting, steps: number): number[] {
  const { mesh, t, label } = parting;
  const seen = new Uint8Array(mesh.faceCount);
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && !seen[f]; c++) {
      const o = parting.across(c);
      if (o >= 0 && label[t.cornerFace[o]] !== label[f]) {
        seen[f] = 1;
        out.push(f);
      }
    }
  let from = 0;
  for (let step = 1; step < steps; step++) {
    const end = out.length;
    for (; from < end; from++)
      for (let c = mesh.faceStart[out[from]]; c < mesh.faceStart[out[from] + 1]; c++) {
        const o = parting.across(c);
        const g = o < 0 ? -1 : t.cornerFace[o];
        if (g >= 0 && !seen[g]) {
          seen[g] = 1;
          out.push(g);
        }
      }
  }
  return out;
}
