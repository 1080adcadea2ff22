/**
 * Steps for attributes of one's own: noted by formulas, handed on between vertices and faces, taken over from another
 * piece.
 */
import { whole } from '../geometry';
import { COLOR, UV, NORMAL, type Mesh } from '../mesh/mesh';
import { raysOf } from '../mesh/rays';
import { insideOf } from '../mesh/inside';
import { elementPoint } from '../mesh/elements';
import { countOf } from '../mesh/picks';
import type { Triple } from '../math/affine';
import { nextCorner, topologyOf } from '../mesh/topology';
import { triangulate } from '../mesh/triangulate';
import { defineStep, input, otherPiece } from '../recipe/define';
import { choice, count, expression, text } from '../recipe/values';
import { codeFor, columnFor } from './columns';

/** Names that mean something else on a mesh. */
const TAKEN = new Set([UV, NORMAL, COLOR, 'material', 'group']);

/** Each value drawn towards the mean of its neighbours, round after round. */
function smoothed(
  mesh: Mesh,
  domain: 'vertex' | 'face' | 'corner',
  from: Float32Array,
  width: number,
  rounds: number,
): Float32Array {
  const t = topologyOf(mesh);
  let now = from;
  for (let r = 0; r < rounds; r++) {
    const sum = new Float64Array(now.length);
    const times = new Float64Array(now.length / width);
    const join = (a: number, b: number) => {
      for (let k = 0; k < width; k++) {
        sum[width * a + k] += now[width * b + k];
        sum[width * b + k] += now[width * a + k];
      }
      times[a]++;
      times[b]++;
    };
    for (let e = 0; e < t.edgeCount; e++) {
      if (domain === 'vertex') join(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]);
      else if (domain === 'corner') {
        // Of a corner the neighbours are those next to it round its face, and across each edge that at the same end.
        for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++) {
          const a = t.edgeCorner[k];
          const b = nextCorner(mesh, t.cornerFace[a], a);
          join(a, b);
          if (k === t.edgeCornerStart[e]) continue;
          const first = t.edgeCorner[t.edgeCornerStart[e]];
          const next = nextCorner(mesh, t.cornerFace[first], first);
          const turned = mesh.cornerVertex[a] !== mesh.cornerVertex[first];
          join(a, turned ? next : first);
          join(b, turned ? first : next);
        }
      } else {
        const s = t.edgeCornerStart[e];
        if (t.edgeCornerStart[e + 1] - s === 2) join(t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]);
      }
    }
    const next = now.slice();
    for (let i = 0; i < times.length; i++)
      if (times[i] > 0)
        for (let k = 0; k < width; k++) {
          const o = width * i + k;
          next[o] = 0.5 * now[o] + (0.5 * sum[o]) / times[i];
        }
    now = next;
  }
  return now;
}

/** By the place of each among all, equal ones alike; or from least to most. */
function rankedBy(values: Float32Array, how: 'plain' | 'rank' | 'share'): Float32Array {
  if (how === 'plain' || values.length === 0) return values;
  const sorted = Float32Array.from(values).sort();
  const [lo, hi] = [sorted[0], sorted[sorted.length - 1]];
  if (how === 'share') return values.map((x) => (hi > lo ? (x - lo) / (hi - lo) : 0));
  const rank = new Map<number, number>();
  sorted.forEach((x, i) => {
    if (!rank.has(x)) rank.set(x, i);
  });
  const last = rank.get(hi)! || 1;
  return values.map((x) => rank.get(x)! / last);
}

function attributeName(written: string): string {
  const name = written.trim();
  if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) || name.length > 40)
    throw new Error('A name is a word of letters and figures, as in “stripe”.');
  if (TAKEN.has(name)) throw new Error(`“${name}” is the mesh’s own: take another name.`);
  return name;
}

const onEach = choice('on each', 'vertex', [
  ['vertex', 'vertex'],
  ['face', 'face'],
]);
const onEachOf = choice('on each', 'vertex', [
  ['vertex', 'vertex'],
  ['face', 'face'],
  ['corner', 'corner'],
]);

export const note = defineStep({
  kind: 'note',
  title: 'Note',
  sentence: ' {name} on each {domain} as {formula}, {ranked}, smoothed {rounds}',
  inputs: { mesh: input('mesh') },
  help: 'An attribute of your own, by a formula: later formulas go by it',
  words: 'attribute formula value per vertex face data custom expression',
  values: {
    name: text('name', 'stripe'),
    domain: onEachOf,
    formula: expression('formula', 'if mod(floor(share.y * 8), 2) = 0 then 1 else 0'),
    ranked: choice('told', 'plain', [
      ['plain', 'as it comes'],
      ['rank', 'by its rank from 0 to 1'],
      ['share', 'as a share of its range'],
    ]),
    rounds: count('rounds', 0, { min: 0, max: 100, zero: 'not at all', noun: ['round', 'rounds'] }),
  },
  run: ({ mesh }, v, c) => {
    const name = attributeName(v.name);
    const code = codeFor(mesh, v.domain, v.formula);
    const width = code.type.kind === 'vector' || code.type.kind === 'colour' ? 3 : 1;
    const values = columnFor(mesh, v.domain, code, c);
    const told = width === 1 ? rankedBy(values, v.ranked) : values;
    const data = smoothed(mesh, v.domain, told, width, v.rounds);
    return mesh.withAttribute(name, { domain: v.domain, width, data });
  },
});

/** Own attributes may be read; the mesh's own are not for taking over. */
function named(mesh: Mesh, name: string, whose: string) {
  const found = mesh.attributes[name.trim()];
  if (!found || TAKEN.has(name.trim())) {
    const all = Object.keys(mesh.attributes).filter((n) => !TAKEN.has(n));
    throw new Error(`${whose} has no attribute “${name.trim()}”${all.length > 0 ? `; it has ${all.join(', ')}` : ''}.`);
  }
  return found;
}

export const handOn = defineStep({
  kind: 'hand-on',
  title: 'Hand on',
  sentence: ' {name} to each {domain}, the {how} of what is around it',
  inputs: { mesh: input('mesh') },
  help: 'An attribute of vertices made one of faces, or the other way round',
  words: 'spread promote demote attribute vertices faces convert average',
  values: {
    name: text('name', 'stripe'),
    domain: choice('to each', 'face', [
      ['face', 'face'],
      ['vertex', 'vertex'],
    ]),
    how: choice('how', 'mean', [
      ['mean', 'mean'],
      ['most', 'most'],
      ['least', 'least'],
    ]),
  },
  run: ({ mesh }, v) => {
    const a = named(mesh, v.name, 'It');
    if (a.domain === v.domain) return mesh;
    const { width: w, data } = a;
    const size = v.domain === 'face' ? mesh.faceCount : mesh.vertexCount;
    const out = new Float64Array(w * size).fill(v.how === 'mean' ? 0 : NaN);
    const times = new Float64Array(size);
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const to = v.domain === 'face' ? f : mesh.cornerVertex[c];
        const from = { vertex: mesh.cornerVertex[c], face: f, corner: c }[a.domain];
        times[to]++;
        for (let k = 0; k < w; k++) {
          const x = data[w * from + k];
          const o = w * to + k;
          if (v.how === 'mean') out[o] += x;
          else if (!(v.how === 'most' ? out[o] >= x : out[o] <= x)) out[o] = x;
        }
      }
    const made = Float32Array.from(out, (x, i) => {
      const n = times[Math.floor(i / w)];
      return n === 0 ? 0 : x / (v.how === 'mean' ? n : 1);
    });
    return mesh.withAttribute(v.name.trim(), { domain: v.domain, width: w, data: made });
  },
});

export const takeOver = defineStep({
  kind: 'take-over',
  title: 'Take over',
  sentence: ' {name} from {other}, each vertex from the nearest place of it',
  inputs: { mesh: input('mesh'), other: otherPiece('the other piece') },
  help: 'An attribute of another piece, as it is at the place of its surface that is nearest to each vertex',
  words: 'transfer attribute nearest project sample copy from surface',
  values: { name: text('name', 'stripe') },
  run: ({ mesh, other }, v, c) => {
    const from = whole(other.geometry).mesh;
    if (!from || from.faceCount === 0) throw new Error(`“${other.name}” has no surface to take anything from.`);
    const a = named(from, v.name, `“${other.name}”`);
    const { width: w, data } = a;
    const tree = raysOf(from);
    const { corners } = triangulate(from);
    const p = from.positions;
    const out = new Float32Array(w * mesh.vertexCount);
    for (let i = 0; i < mesh.vertexCount; i++) {
      if ((i & 1023) === 0) c.progress(i / mesh.vertexCount);
      const hit = tree.nearest([mesh.positions[3 * i], mesh.positions[3 * i + 1], mesh.positions[3 * i + 2]]);
      if (!hit) continue;
      const own = [0, 1, 2].map((k) => corners[3 * hit.triangle + k]);
      const weights =
        a.domain === 'face'
          ? [1, 0, 0]
          : shares(
              p,
              own.map((x) => from.cornerVertex[x]),
              hit.at,
            );
      for (let k = 0; k < w; k++) {
        let x = 0;
        for (let j = 0; j < 3; j++) {
          const at = { vertex: from.cornerVertex[own[j]], face: hit.face, corner: own[j] }[a.domain];
          x += weights[j] * data[w * at + k];
        }
        out[w * i + k] = x;
      }
    }
    return mesh.withAttribute(v.name.trim(), { domain: 'vertex', width: w, data: out });
  },
});

export const farOff = defineStep({
  kind: 'far-off',
  title: 'Note how far',
  sentence: ' it is to {other}, as {name} on each {domain}',
  inputs: { mesh: input('mesh'), other: otherPiece('the other piece') },
  help:
    'The distance to the surface of another piece, below 0 inside a closed one, for formulas to go by; live as ' +
    'the other moves',
  words: 'distance proximity sdf inside attribute near other piece falloff',
  values: {
    name: text('name', 'far'),
    domain: onEach,
  },
  run: ({ mesh, other }, v, c) => {
    const from = whole(other.geometry).mesh;
    if (!from || from.faceCount === 0) throw new Error(`“${other.name}” has no surface to be far from.`);
    const name = attributeName(v.name);
    const tree = raysOf(from);
    const inside = insideOf(from);
    const n = countOf(mesh, v.domain);
    const data = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      if ((i & 1023) === 0) c.progress(i / n);
      const at = elementPoint(mesh, v.domain, i) as Triple;
      const hit = tree.nearest(at);
      if (!hit) continue;
      const far = Math.hypot(at[0] - hit.at[0], at[1] - hit.at[1], at[2] - hit.at[2]);
      data[i] = inside?.(at) ? -far : far;
    }
    return mesh.withAttribute(name, { domain: v.domain, width: 1, data });
  },
});

/** How much of each of three vertices a place between them has. */
function shares(p: Float32Array, of: readonly number[], at: readonly number[]): [number, number, number] {
  const [a, b, c] = of.map((v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]] as const);
  const area = (x: readonly number[], y: readonly number[], z: readonly number[]): number => {
    const [ux, uy, uz] = [0, 1, 2].map((k) => y[k] - x[k]);
    const [wx, wy, wz] = [0, 1, 2].map((k) => z[k] - x[k]);
    return Math.hypot(uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx);
  };
  const parts = [area(at, b, c), area(at, c, a), area(at, a, b)];
  const all = parts[0] + parts[1] + parts[2];
  return all > 0 ? [parts[0] / all, parts[1] / all, parts[2] / all] : [1, 0, 0];
}
