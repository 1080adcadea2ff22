/**
 * The one gate for what comes out of a reader: what is not fit for the rest of the program is mended, counted and said.
 * After it every coordinate is finite and in reach, every index leads somewhere, no face meets a vertex twice, and
 * every name can be kept.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Affine } from '../math/affine';
import { gatherAttributes } from '../mesh/gather';
import { UV, type Attribute, type Attributes, type Mesh } from '../mesh/mesh';
import { mapMaps, type Laid } from '../material';
import type { Scene, SceneMaterial, ScenePiece } from './scene';
import { cleanName, cleanText } from './words';

/** The farthest from the origin that anything may be, in the file's units. */
const MOST_PLACE = 1e9;
/** Parts of a map that turns, sizes and leans. */
const MOST_PART = 1e6;
const MOST_UV = 1e5;
/** Of a glow, a relief or a shade. */
const MOST_STRENGTH = 1000;
const MOST_WARNINGS = 60;
const MOST_SENTENCE = 400;

class Counts {
  faces = 0;
  vertices = 0;
  repeats = 0;
  values = 0;
  places = 0;
  curves = 0;
  names = 0;
  colours = 0;
}

const inReach = (x: number, most: number): boolean => x <= most && x >= -most; // false for NaN

/** Faces that can be kept, without corners that repeat the one before. */
function fitFaces(m: Mesh, n: Counts): { face: number[]; corner: number[]; start: number[] } | null {
  const { positions: p, faceStart, cornerVertex, faceCount, vertexCount, cornerCount } = m;
  const good = new Uint8Array(vertexCount);
  let bad = 0;
  for (let v = 0; v < vertexCount; v++) {
    const o = 3 * v;
    good[v] = inReach(p[o], MOST_PLACE) && inReach(p[o + 1], MOST_PLACE) && inReach(p[o + 2], MOST_PLACE) ? 1 : 0;
    bad += 1 - good[v];
  }
  n.vertices += bad;
  const seen = new Int32Array(vertexCount).fill(-1);
  const face: number[] = [];
  const corner: number[] = [];
  const start: number[] = [0];
  let same = bad === 0;
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const from = corner.length;
    const s = faceStart[f];
    const e = Math.min(cornerCount, faceStart[f + 1]);
    let fit = true;
    for (let c = s; c < e && fit; c++) {
      const v = cornerVertex[c];
      const before = cornerVertex[c === s ? e - 1 : c - 1];
      if (v === before && e - s > 1) {
        n.repeats++;
        same = false;
        continue;
      }
      fit = v < vertexCount && good[v] === 1 && seen[v] !== f;
      if (fit) seen[v] = f;
      corner.push(c);
    }
    if (fit && corner.length - from >= 3) {
      face.push(f);
      start.push(corner.length);
    } else {
      corner.length = from;
      n.faces++;
      same = false;
    }
  }
  return same ? null : { face, corner, start };
}

function fitAttributes(attributes: Attributes, m: Mesh, n: Counts): Attributes {
  const size = { vertex: m.vertexCount, face: m.faceCount, corner: m.cornerCount };
  const out: Record<string, Attribute> = {};
  let same = true;
  for (const [name, a] of Object.entries(attributes)) {
    if (a.data.length !== a.width * size[a.domain]) {
      n.values++;
      same = false;
      continue;
    }
    const most = name === UV || a.width === 2 ? MOST_UV : Number.MAX_VALUE;
    let data = a.data;
    if (data instanceof Float32Array)
      for (let i = 0; i < data.length; i++)
        if (!inReach(data[i], most)) {
          if (data === a.data) data = data.slice();
          data[i] = 0;
          n.values++;
          same = false;
        }
    out[name] = data === a.data ? a : { ...a, data };
  }
  return same ? attributes : out;
}

function fitMesh(m: Mesh, n: Counts): Mesh {
  const attributes = fitAttributes(m.attributes, m, n);
  let out = attributes === m.attributes ? m : m.with({ attributes });
  const faces = fitFaces(out, n);
  if (faces) {
    const { positions, cornerVertex, faceKey, vertexKey } = out;
    const used = new Int32Array(out.vertexCount).fill(-1);
    const vertices: number[] = [];
    const corners = Uint32Array.from(faces.corner, (c) => {
      const v = cornerVertex[c];
      if (used[v] < 0) used[v] = vertices.push(v) - 1;
      return used[v];
    });
    const at = new Float32Array(3 * vertices.length);
    vertices.forEach((v, i) => at.set(positions.subarray(3 * v, 3 * v + 3), 3 * i));
    out = out.with({
      positions: at,
      cornerVertex: corners,
      faceStart: Uint32Array.from(faces.start),
      faceKey: Float64Array.from(faces.face, (f) => faceKey[f]),
      vertexKey: Float64Array.from(vertices, (v) => vertexKey[v]),
      attributes: gatherAttributes(out.attributes, { face: faces.face, corner: faces.corner, vertex: vertices }),
    });
  }
  const named = (list: readonly string[]) =>
    list.every((x) => cleanName(x, x) === x) ? list : list.map((x) => cleanName(x));
  const groups = named(out.groups);
  return groups === out.groups ? out : out.with({ groups });
}

const fitPlace = (at: Affine): boolean => at.every((x, i) => inReach(x, i % 4 === 3 ? MOST_PLACE : MOST_PART));

function fitMaterial(m: SceneMaterial, images: number, n: Counts): SceneMaterial {
  const share = (x: number, otherwise: number) => {
    if (x >= 0 && x <= 1) return x;
    n.colours++;
    return Number.isFinite(x) ? Math.min(1, Math.max(0, x)) : otherwise;
  };
  const image = (i: number | undefined) => (i !== undefined && i >= 0 && i < images ? i : undefined);
  const out: SceneMaterial = {
    ...m,
    name: name(m.name, 'material', n),
    color: [share(m.color[0], 0.5), share(m.color[1], 0.5), share(m.color[2], 0.5), share(m.color[3], 1)],
    roughness: share(m.roughness, 0.5),
    metalness: share(m.metalness, 0),
  };
  if (m.cut !== undefined) out.cut = share(m.cut, 0.5);
  if (m.glow !== undefined && !/^#[0-9a-f]{6}$/i.test(m.glow)) delete out.glow;
  if (m.glowStrength !== undefined) out.glowStrength = within(m.glowStrength, 0, MOST_STRENGTH, 1);
  if (m.maps) out.maps = mapMaps(m.maps, image);
  if (m.laid) out.laid = mapMaps(m.laid, fitLaid);
  return out;
}

const within = (x: number, least: number, most: number, otherwise: number): number =>
  Number.isFinite(x) ? Math.min(most, Math.max(least, x)) : otherwise;

function fitLaid(l: Laid): Laid {
  const out: Laid = {};
  const pair = ([x, y]: readonly [number, number], otherwise: number): [number, number] => [
    within(x, -MOST_UV, MOST_UV, otherwise),
    within(y, -MOST_UV, MOST_UV, otherwise),
  ];
  if (l.set !== undefined && Number.isInteger(l.set) && l.set > 0 && l.set < 4) out.set = l.set;
  if (l.shift) out.shift = pair(l.shift, 0);
  if (l.size) out.size = pair(l.size, 1);
  if (l.turn !== undefined) out.turn = within(l.turn, -100, 100, 0);
  if (l.strength !== undefined) out.strength = within(l.strength, -MOST_STRENGTH, MOST_STRENGTH, 1);
  return out;
}

function name(given: string, otherwise: string, n: Counts): string {
  const clean = cleanName(given, otherwise);
  if (clean !== given && given !== '') n.names++;
  return clean;
}

function say(n: Counts): string[] {
  const many = (count: number, one: string, more: string) =>
    count === 1 ? `1 ${one}` : `${count.toLocaleString('en')} ${more}`;
  const out: string[] = [];
  if (n.vertices) out.push(`${many(n.vertices, 'vertex is', 'vertices are')} at no place that can be, and left out.`);
  if (n.repeats) out.push(`${many(n.repeats, 'corner repeats', 'corners repeat')} the one before, and left out.`);
  if (n.faces)
    out.push(
      `${many(n.faces, 'face', 'faces')} could not be kept: with fewer than three places, or a vertex met twice.`,
    );
  if (n.values)
    out.push(
      `${many(n.values, 'value of UVs or other data is', 'values of UVs or other data are')} no number that ` +
        'can be; 0 stands there.',
    );
  if (n.places)
    out.push(
      `${many(n.places, 'piece stood', 'pieces stood')} at a place, or of a size, that cannot be: put at the ` +
        'origin as made.',
    );
  if (n.curves)
    out.push(`${many(n.curves, 'piece had', 'pieces had')} curves at no place that can be; they were left out.`);
  if (n.colours)
    out.push(
      `${many(n.colours, 'value of a material was', 'values of materials were')} out of range, and set to what ` +
        'is nearest.',
    );
  if (n.names) out.push(`${many(n.names, 'name', 'names')} had to be shortened or cleaned to be kept.`);
  return out;
}

/** Throws nothing: whatever a reader gives comes out fit. */
export function gate(scene: Scene): Scene {
  const n = new Counts();
  const meshes = new Map<Mesh, Mesh>();
  const pieces = scene.pieces.map((p, i): ScenePiece => {
    const out: ScenePiece = {
      ...p,
      name: name(p.name, 'piece', n),
      parent: p.parent >= 0 && p.parent < i ? p.parent : -1,
    };
    if (p.mesh && !meshes.has(p.mesh)) meshes.set(p.mesh, fitMesh(p.mesh, n));
    if (p.mesh) Object.assign(out, { mesh: meshes.get(p.mesh) });
    if (p.curves && !p.curves.points.every((x) => inReach(x, MOST_PLACE))) {
      delete (out as { curves?: unknown }).curves;
      n.curves++;
    }
    if (p.place && !fitPlace(p.place)) {
      delete out.place;
      n.places++;
    }
    return out;
  });
  const scale = scene.scale && { ...scene.scale };
  if (scale?.unit !== undefined && !(scale.unit >= 1e-9 && scale.unit <= 1e6)) delete scale.unit;
  const materials = scene.materials.map((m) => fitMaterial(m, scene.images.length, n));
  const images = scene.images.map((x) => ({ ...x, name: name(x.name, 'picture', n) }));
  const told = [...say(n), ...scene.warnings.map((w) => cleanText(w.slice(0, MOST_SENTENCE)))];
  const warnings =
    told.length <= MOST_WARNINGS
      ? told
      : [
          ...told.slice(0, MOST_WARNINGS),
          `… and ${(told.length - MOST_WARNINGS).toLocaleString('en')} more of the kind.`,
        ];
  return { ...scene, pieces, materials, images, warnings, ...(scale ? { scale } : {}) };
}
