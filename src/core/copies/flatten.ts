/**
 * Copies made into one mesh, and curves. Sets and materials keep their names, so all copies share them; the face
 * attribute `copy` tells which is which. Keys are made of the copy's and the element's own.
 *
 * 60 storeys of 680 faces in one pass over flat arrays; by transforming and merging mesh by mesh it took three times as
 * long (see `./glypta bench --only copies`).
 */
import { oneTexture } from '../edit/merge';
import { transformMesh } from '../edit/transform';
import { determinant, IDENTITY, type Affine } from '../math/affine';
import { EVERY, pulse } from '../math/pulse';
import { edgeKey, key2 } from '../math/hash';
import { alikeColoured } from '../mesh/colours';
import { blank } from '../mesh/gather';
import { marksAs, type MarkName, type Marks } from '../mesh/marks';
import { COPY, emptyMesh, Mesh, NORMAL, type Attribute } from '../mesh/mesh';
import { copiedRole, Later, type Places } from '../mesh/places';
import { curvesOfCopies, placeOfCopy, type Copied, type Copies } from './copies';

/** Faces of all copies together. */
const MOST_FACES = 8_000_000;

/** The key of what stands there as it is: its elements keep theirs. */
const ITSELF = -1;
const keyIn = (copy: number, own: number): number => (copy < 0 ? own : key2(copy, own));

const done = new WeakMap<Copies, Copied>();

/** One mesh and curves of all copies. Remembered: it is asked for by whatever comes after them. */
export function flattened(c: Copies): Copied {
  const had = done.get(c);
  if (had) return had;
  const curves = curvesOfCopies(c);
  const mesh = meshOf(c);
  const out = { ...(mesh ? { mesh } : {}), ...(curves ? { curves } : {}) };
  done.set(c, out);
  return out;
}

/** Copies and what is there once, as one mesh and curves. */
export function withFlattened(own: Copied, copies: Copies): Copied {
  if (!own.mesh && !own.curves) return flattened(copies);
  const n = copies.of.length;
  const place = new Float64Array(12 * (n + 1));
  place.set(IDENTITY);
  place.set(copies.place, 12);
  const key = Float64Array.from([ITSELF, ...copies.key]);
  const { length } = copies.sources;
  return flattened({ sources: [...copies.sources, own], of: Uint32Array.from([length, ...copies.of]), place, key });
}

/** How many faces, triangles of fans and vertices they would be as one mesh. */
export function sizeOfCopies(c: Copies): { faces: number; triangles: number; vertices: number } {
  const out = { faces: 0, triangles: 0, vertices: 0 };
  for (const s of c.of) {
    const m = c.sources[s].mesh;
    if (!m) continue;
    out.faces += m.faceCount;
    out.triangles += m.cornerCount - 2 * m.faceCount;
    out.vertices += m.vertexCount;
  }
  return out;
}

function meshOf(c: Copies): Mesh | undefined {
  const list = [...c.of.keys()].filter((i) => (c.sources[c.of[i]].mesh?.vertexCount ?? 0) > 0);
  if (list.length === 0) return undefined;
  const { faces, vertices } = sizeOfCopies(c);
  if (faces > MOST_FACES)
    throw new Error(
      `As one mesh the copies would have ${faces.toLocaleString('en')} faces; ` +
        `${MOST_FACES.toLocaleString('en')} are the most.`,
    );
  const meshes = alikeColoured(c.sources.map((s) => s.mesh ?? emptyMesh()));
  const of = (i: number) => meshes[c.of[i]];
  const corners = list.reduce((n, i) => n + of(i).cornerCount, 0);
  const positions = new Float32Array(3 * vertices);
  const cornerVertex = new Uint32Array(corners);
  const faceStart = new Uint32Array(faces + 1);
  let v = 0;
  let k = 0;
  let f = 0;
  for (const i of list) {
    const m = of(i);
    const at = placeOfCopy(c, i);
    placed(m.positions, at, positions, 3 * v);
    const { cornerVertex: from, faceStart: starts } = m;
    for (let x = 0; x < m.faceCount; x++) faceStart[f + x + 1] = starts[x + 1] + k;
    if (determinant(at) < 0)
      for (let x = 0; x < m.faceCount; x++) {
        const s = starts[x];
        const e = starts[x + 1];
        cornerVertex[k + s] = from[s] + v;
        for (let y = s + 1; y < e; y++) cornerVertex[k + y] = from[e - (y - s)] + v;
      }
    else for (let x = 0; x < m.cornerCount; x++) cornerVertex[k + x] = from[x] + v;
    v += m.vertexCount;
    k += m.cornerCount;
    f += m.faceCount;
  }
  const { attributes, slots, groups } = attributesOf(c, list, meshes, {
    vertex: vertices,
    face: faces,
    corner: corners,
  });
  const keys = (kind: 'vertexKey' | 'faceKey', count: number) => () => {
    const out = new Float64Array(count);
    let n = 0;
    for (const i of list) {
      const own = of(i)[kind];
      for (let x = 0; x < own.length; x++) out[n + x] = keyIn(c.key[i], own[x]);
      n += own.length;
    }
    return out;
  };
  return new Mesh({
    positions,
    cornerVertex,
    faceStart,
    vertexKey: keys('vertexKey', vertices),
    faceKey: keys('faceKey', faces),
    attributes,
    slots,
    groups,
    textures: oneTexture([...new Set(list.map(of))]),
    marks: meshes.some((m) => m.marks) ? new Later(() => marksOfAll(c, list, meshes)) : undefined,
    places: new Later(() => placesOfAll(c, list, meshes, vertices)),
  });
}

function placed(from: Float32Array, m: Affine, to: Float32Array, o: number): void {
  const [a, b, c, d, e, f, g, h, i, j, k, l] = m;
  for (let n = 0; n < from.length; n += 3) {
    if ((n & EVERY) === 0) pulse();
    const x = from[n];
    const y = from[n + 1];
    const z = from[n + 2];
    to[o + n] = a * x + b * y + c * z + d;
    to[o + n + 1] = e * x + f * y + g * z + h;
    to[o + n + 2] = i * x + j * y + k * z + l;
  }
}

type Counts = Record<Attribute['domain'], number>;

/** Names of all, and for each mesh where its own stand among them. */
function joinedNames(lists: readonly (readonly string[])[]): { names: string[]; to: number[][] } {
  const names: string[] = [];
  const to = lists.map((list) =>
    list.map((name) => {
      const at = names.indexOf(name);
      return at >= 0 ? at : names.push(name) - 1;
    }),
  );
  return { names, to };
}

function attributesOf(c: Copies, list: readonly number[], meshes: readonly Mesh[], counts: Counts) {
  const slots = joinedNames(meshes.map((m) => m.slots));
  const groups = joinedNames(meshes.map((m) => m.groups));
  const out: Record<string, Attribute> = {};
  const which = new Int32Array(counts.face);
  const n: Counts = { vertex: 0, face: 0, corner: 0 };
  // Normals that only some parts brought would leave the others black.
  const normals = meshes.every((m) => m.faceCount === 0 || m.attributes[NORMAL]);
  for (const [nth, i] of list.entries()) {
    const source = meshes[c.of[i]];
    const at = placeOfCopy(c, i);
    const turned = normals && source.attributes[NORMAL] ? transformMesh(source, at) : source;
    const flips = determinant(at) < 0;
    for (const [name, a] of Object.entries(turned.attributes)) {
      if (name === COPY || (name === NORMAL && !normals)) continue;
      const into = (out[name] ??= { ...a, data: blank(a.data, counts[a.domain] * a.width) });
      if (into.domain !== a.domain || into.width !== a.width) continue; // one name for two things: the first stays
      const o = n[a.domain];
      const names = { material: slots, group: groups }[name];
      if (names) {
        const to = names.to[c.of[i]];
        for (let f = 0; f < a.data.length; f++) into.data[o + f] = a.data[f] >= 0 ? to[a.data[f]] : -1;
      } else if (flips && a.domain === 'corner' && turned === source) {
        const w = a.width;
        for (let f = 0; f < source.faceCount; f++) {
          const s = source.faceStart[f];
          const e = source.faceStart[f + 1];
          for (let x = s; x < e; x++) {
            const from = x === s ? s : e - (x - s);
            for (let k = 0; k < w; k++) into.data[(o + x) * w + k] = a.data[from * w + k];
          }
        }
      } else into.data.set(a.data, o * a.width);
    }
    which.fill(nth, n.face, n.face + source.faceCount);
    n.vertex += source.vertexCount;
    n.face += source.faceCount;
    n.corner += source.cornerCount;
  }
  out[COPY] = { domain: 'face', width: 1, data: which };
  return { attributes: out, slots: slots.names, groups: groups.names };
}

function marksOfAll(c: Copies, list: readonly number[], meshes: readonly Mesh[]): Marks {
  const all = list.map((i) => {
    const m = meshes[c.of[i]];
    const key = (v: number) => keyIn(c.key[i], m.vertexKey[v]);
    return marksAs(m, (a, b) => [edgeKey(key(a), key(b))]);
  });
  const joined = (name: MarkName) => new Map(all.flatMap((marks) => [...(marks[name] ?? [])]));
  return { crease: joined('crease'), hard: joined('hard') };
}

/** Farther than anything reaches in natural coordinates. */
const ASIDE = 4;

function placesOfAll(c: Copies, list: readonly number[], meshes: readonly Mesh[], vertices: number): Places {
  const out = { at: new Float32Array(4 * vertices), role: new Uint32Array(vertices) };
  let n = 0;
  for (const i of list) {
    const own = meshes[c.of[i]].places;
    out.at.set(own.at, 4 * n);
    // Copies lie apart in natural coordinates too: roles alone, of 16 bits, would mix up some of thousands.
    const aside = c.key[i] < 0 ? 0 : ASIDE * (c.key[i] % 256);
    if (aside > 0) for (let k = 0; k < own.role.length; k++) out.at[4 * (n + k)] += aside;
    for (let k = 0; k < own.role.length; k++)
      out.role[n + k] = c.key[i] < 0 ? own.role[k] : copiedRole(own.role[k], c.key[i]);
    n += own.role.length;
  }
  return out;
}
