/**
 * Strips: a row of quads along a line that was drawn over another surface. Its corners lie on that surface; those near
 * vertices that are there on an open border take these, so strips join where they meet. Rounds of relaxing move only
 * what was drawn and what touches it, and keep it on the surface.
 */
import type { Triple } from '../math/affine';
import { key2, keyOf } from '../math/hash';
import { along, apart, at, between, cross, minus, unit, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import type { RayTree } from '../mesh/rays';
import { topologyOf } from '../mesh/topology';
import { onBorder } from '../rules/measures';
import { layOn } from './layon';
import { relax } from './relax';

const STRIP = keyOf('strip');
/** As a share of the strip's width: corners nearer than this to a vertex that is there take it. */
const JOINS = 0.4;
const MOST = 4000;

export interface StripOptions {
  /** Metres, across. */
  width: number;
  /** Metres, along; 0 for as long as they are wide. */
  long: number;
  /** Rounds of relaxing. */
  rounds: number;
  /** The way it looks where there is no surface to say. */
  towards: Triple;
}

/** `ground`: what it is drawn on, if anything. */
export function drawStrip(
  mesh: Mesh,
  line: readonly Triple[],
  o: StripOptions,
  id: number,
  ground?: { mesh: Mesh; rays: RayTree },
): Mesh {
  const stations = spaced(line, o.long > 0 ? o.long : o.width);
  if (stations.length < 2 || !(o.width > 0)) throw new Error('A strip needs a width, and a line that has a length.');
  if (stations.length > MOST)
    throw new Error(
      `That would be ${stations.length} faces in a row; at most ${MOST} are drawn at once. Draw it wider.`,
    );
  const draft = new MeshDraft(mesh);
  const seed = key2(id, STRIP);
  const free = takeable(mesh, o.width * JOINS);
  const drawn = new Set<number>();
  const rows = stations.map((p, i): readonly [number, number] => {
    const t = unit(minus(stations[Math.min(i + 1, stations.length - 1)], stations[Math.max(i - 1, 0)]));
    const near = ground?.rays.nearest(p);
    const up = near && ground ? unit(ground.rays.normal(near.triangle)) : unit(o.towards);
    const across = unit(cross(up, t));
    return [-1, 1].map((side, k) => {
      const rough = along(p, across, (side * o.width) / 2);
      const on = ground?.rays.nearest(rough)?.at ?? rough;
      const had = free([on[0], on[1], on[2]]);
      const v = had >= 0 && !drawn.has(had) ? had : draft.vertex(key2(seed, 2 * i + k), on[0], on[1], on[2]);
      drawn.add(v);
      return v;
    }) as unknown as readonly [number, number];
  });
  for (let i = 0; i + 1 < rows.length; i++) {
    const ring = [rows[i][0], rows[i + 1][0], rows[i + 1][1], rows[i][1]];
    draft.begin(key2(seed, 1_000_003 + i), -1);
    for (const v of ring) draft.at(v, -1);
    draft.end();
  }
  const out = draft.finish();
  return o.rounds > 0 ? settled(out, drawn, mesh.vertexCount, o.rounds, ground?.mesh) : out;
}

/** Places at equal distances along a line, as near to what is asked as fits. */
function spaced(line: readonly Triple[], step: number): Vector[] {
  const far = [0];
  for (let i = 1; i < line.length; i++) far.push(far[i - 1] + apart(line[i], line[i - 1]));
  const length = far[far.length - 1];
  if (!(length > 0) || !(step > 0)) return [];
  const parts = Math.max(1, Math.round(length / step));
  if (parts > MOST) return Array.from({ length: parts + 1 }, () => [0, 0, 0]);
  const out: Vector[] = [];
  let k = 0;
  for (let i = 0; i <= parts; i++) {
    const want = (length * i) / parts;
    while (k + 2 < far.length && far[k + 1] < want) k++;
    const span = far[k + 1] - far[k];
    out.push(between(line[k], line[k + 1], span > 0 ? (want - far[k]) / span : 0));
  }
  return out;
}

/** The nearest vertex of an open border, or a loose one, within a distance; −1 for none. */
function takeable(mesh: Mesh, within: number): (p: Vector) => number {
  const border = onBorder(mesh);
  const t = topologyOf(mesh);
  const list: number[] = [];
  for (let v = 0; v < mesh.vertexCount; v++)
    if (border(v) || t.vertexCornerStart[v] === t.vertexCornerStart[v + 1]) list.push(v);
  return (p) => {
    let best = within;
    let found = -1;
    for (const v of list) {
      const d = apart(p, at(mesh.positions, v));
      if (d < best) [best, found] = [d, v];
    }
    return found;
  };
}

/**
 * What was drawn, and what it was joined to, relaxed on the surface. Vertices that were there before and lie inside
 * stay.
 */
function settled(mesh: Mesh, drawn: ReadonlySet<number>, old: number, rounds: number, ground?: Mesh): Mesh {
  const vertices = [...drawn].filter((v) => v >= old);
  let out = mesh;
  for (let i = 0; i < Math.min(rounds, 50); i++) {
    out = relax(out, Uint32Array.from(vertices), { rounds: 1, strength: 0.4, keepVolume: false, holdBorders: false });
    if (ground) out = layOn(out, vertices, ground, { how: 'nearest', off: 0, most: Infinity }).mesh;
  }
  return out;
}
