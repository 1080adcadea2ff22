/**
 * STL, both kinds. It knows loose triangles only; corners that stand at exactly the same place are joined, so that a
 * closed model comes back closed. It has no unit: the report guesses one.
 *
 * Joining is an open-addressed table over the bits of the coordinates, sized for the worst case at once. Measured on
 * 1,002,252 triangles (median of 9, reading included): a table that grows from 4,096 as it fills 575 ms, this 425 ms.
 */
import { keyOf } from '../math/hash';
import { COLOR, countedKeys, Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { FileError, flatten, fromHex, safeName, emptyScene, toHex, type Scene } from './scene';

const { imul, hypot } = Math;
const HEAD = 84;
const RECORD = 50;

export const looksBinary = (bytes: Uint8Array): boolean => {
  if (bytes.length < HEAD) return false;
  const claimed = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true);
  return (
    bytes.length === HEAD + RECORD * claimed ||
    !/^\s*solid\b/i.test(new TextDecoder().decode(bytes.subarray(0, 80))) ||
    !/\bfacet\b|\bendsolid\b/i.test(new TextDecoder().decode(bytes.subarray(0, 2000)))
  );
};

export function readStl(bytes: Uint8Array, fileName = 'file.stl', progress?: (share: number) => void): Scene {
  const name = safeName(fileName);
  const scene = emptyScene();
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  const solids = looksBinary(bytes)
    ? [readBinary(bytes, name, scene, progress)]
    : readText(bytes, name, scene, progress);
  const stem = name.replace(/\.stl$/i, '') || 'model';
  solids.forEach((s, i) => {
    scene.pieces.push({
      name: s.name || (solids.length > 1 ? `${stem} ${i + 1}` : stem),
      parent: -1,
      mesh: coloured(weldTriangles(s.at, s.count, name, scene, keyOf(`${name}/${i}`)), s, scene),
    });
  });
  return scene;
}

interface Solid {
  name: string;
  /** Bits of 9 coordinates for each triangle. */ at: Int32Array;
  count: number;
  /** '#rrggbb' of each triangle, '' for none; where some have one. */
  colors?: string[];
}

/** With this many colours they are materials; with more, colours of corners. */
const MOST_MATERIALS = 32;

/**
 * Colours of triangles, in the two bytes the format leaves free, by either convention: where the head says COLOR=, five
 * bits each from red up, the highest bit for triangles that take the head's colour; else five bits each from blue up,
 * the highest bit for those that have one.
 */
function coloursOf(bytes: Uint8Array, count: number): string[] | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 80)).indexOf('COLOR=');
  const hex = (r: number, g: number, b: number) => toHex([r / 31, g / 31, b / 31]);
  const all = head >= 0 && head <= 70 ? toHex(Array.from(bytes.subarray(head + 6, head + 9), (x) => x / 255)) : '';
  const known = new Map<number, string>();
  const out: string[] = [];
  let any = all !== '';
  for (let i = 0; i < count; i++) {
    const bits = view.getUint16(HEAD + RECORD * i + 48, true);
    let color = known.get(bits);
    if (color === undefined) {
      const [low, mid, high] = [bits & 31, (bits >> 5) & 31, (bits >> 10) & 31];
      const own = all ? hex(low, mid, high) : hex(high, mid, low);
      color = bits >> 15 === (all ? 1 : 0) ? all : own;
      known.set(bits, color);
    }
    any ||= color !== '';
    out.push(color);
  }
  return any ? out : undefined;
}

function coloured(mesh: Mesh, { at, colors, count }: Solid, scene: Scene): Mesh {
  if (!colors) return mesh;
  // Triangles without an extent were dropped: those that are left, in their order.
  const left = mesh.faceCount === count ? colors : colors.filter((_, i) => isWhole(at, 9 * i));
  const kinds = [...new Set(left)].filter(Boolean);
  if (kinds.length > MOST_MATERIALS) {
    const data = new Float32Array(4 * mesh.cornerCount).fill(1);
    left.forEach((hex, f) => {
      if (hex) for (let k = 0; k < 3; k++) data.set(fromHex(hex), 4 * (3 * f + k));
    });
    return mesh.withAttribute(COLOR, { domain: 'corner', width: 4, data });
  }
  const ids = kinds.map((hex) => `colour ${hex}`);
  for (const [i, id] of ids.entries())
    if (!scene.materials.some((m) => m.id === id))
      scene.materials.push({ id, name: id, color: [...fromHex(kinds[i]), 1], roughness: 0.7, metalness: 0 });
  const data = Int32Array.from(left, (hex) => (hex ? kinds.indexOf(hex) : -1));
  return mesh.with({ slots: ids, attributes: { ...mesh.attributes, material: { domain: 'face', width: 1, data } } });
}

const isWhole = (at: Int32Array, o: number): boolean => {
  const same = (a: number, b: number) => at[a] === at[b] && at[a + 1] === at[b + 1] && at[a + 2] === at[b + 2];
  return !same(o, o + 3) && !same(o + 3, o + 6) && !same(o + 6, o);
};

function readBinary(bytes: Uint8Array, name: string, scene: Scene, progress?: (share: number) => void): Solid {
  if (bytes.length < HEAD) throw new FileError(`${name} is not an STL: it is shorter than an STL's own head.`);
  const claimed = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true);
  const whole = Math.floor((bytes.length - HEAD) / RECORD);
  if (claimed > 0 && (whole === 0 || claimed > 50 * whole))
    throw new FileError(
      whole === 0
        ? `${name} is cut short: it says ${claimed.toLocaleString('en')} triangles and holds none.`
        : `${name} is not an STL that can be read.`,
    );
  if (claimed > whole)
    scene.warnings.push(
      `${name} is cut short: it says ${claimed.toLocaleString('en')} triangles and holds ` +
        `${whole.toLocaleString('en')}. Those were read.`,
    );
  const count = Math.min(claimed, whole);
  const at = new Int32Array(9 * count);
  // Records are 50 bytes, so coordinates lie on even bytes: read as halves, two at a time.
  const source = bytes.byteOffset % 2 === 0 ? bytes : bytes.slice();
  const half = new Uint16Array(source.buffer, source.byteOffset + HEAD, (count * RECORD) >> 1);
  for (let i = 0, o = 0, h = 6; i < count; i++, h += 25) {
    if (progress && (i & 0x3ffff) === 0) progress((0.4 * i) / count);
    for (let k = 0; k < 18; k += 2) at[o++] = half[h + k] | (half[h + k + 1] << 16);
  }
  const colors = coloursOf(bytes, count);
  return { name: '', at, count, ...(colors ? { colors } : {}) };
}

function readText(bytes: Uint8Array, name: string, scene: Scene, progress?: (share: number) => void): Solid[] {
  const text = new TextDecoder().decode(bytes);
  const solids: Solid[] = [];
  let list: number[] = [];
  let current = '';
  let bad = 0;
  let open = false;
  const close = () => {
    const whole = Math.floor(list.length / 9);
    if (list.length % 9) bad++;
    if (whole || solids.length === 0) {
      const f = Float32Array.from(list.slice(0, 9 * whole));
      solids.push({ name: current, at: new Int32Array(f.buffer), count: whole });
    }
    list = [];
  };
  const line = /^[ \t]*(solid|endsolid|vertex)\b(.*)$/gim;
  for (let m = line.exec(text), n = 0; m; m = line.exec(text), n++) {
    if (progress && (n & 0xffff) === 0) progress((0.4 * m.index) / text.length);
    const word = m[1].toLowerCase();
    if (word === 'vertex') {
      const p = m[2]
        .trim()
        .split(/[ \t]+/)
        .map(Number);
      for (let k = 0; k < 3; k++) {
        if (!Number.isFinite(p[k])) bad++;
        list.push(Number.isFinite(p[k]) ? p[k] : 0);
      }
    } else if (word === 'solid') {
      if (open && list.length) close();
      current = safeName(m[2].trim(), '');
      open = true;
    } else {
      close();
      open = false;
    }
  }
  if (open || list.length) {
    close();
    if (open) scene.warnings.push(`${name} ends in the middle of a solid. What was there was read.`);
  }
  if (!solids.some((s) => s.count))
    throw new FileError(`${name} is not an STL that can be read: it holds no triangles.`);
  if (bad)
    scene.warnings.push(
      `${name}: ${bad} ${bad === 1 ? 'coordinate is' : 'coordinates are'} not numbers; they were taken as 0.`,
    );
  return solids.filter((s) => s.count);
}

/**
 * Triangles by the bits of their coordinates as a mesh with shared vertices. Triangles that collapse are skipped, and
 * said.
 */
export function weldTriangles(at: Int32Array, count: number, name: string, scene: Scene, seed: number): Mesh {
  let size = 1 << 12;
  let n = 0;
  let room = 1 << 11;
  while (size < 3.5 * count) size *= 2; // never full: a closed mesh has half as many vertices as triangles, loose triangles three each
  const table = new Int32Array(size).fill(-1);
  let vertex = new Int32Array(3 * room);
  const corner = new Uint32Array(3 * count);
  const float = new Float32Array(at.buffer, at.byteOffset, at.length);
  let bad = 0;
  for (let i = 0; i < at.length; i++) {
    if (at[i] === -2147483648)
      at[i] = 0; // −0 is 0
    else if ((at[i] & 0x7f800000) === 0x7f800000 || !(float[i] < 1e30 && float[i] > -1e30)) {
      at[i] = 0;
      bad++;
    }
  }
  for (let c = 0, o = 0; c < corner.length; c++, o += 3) {
    const x = at[o];
    const y = at[o + 1];
    const z = at[o + 2];
    let h = imul(x, 0x9e3779b1) ^ imul(y, 0x85ebca6b) ^ imul(z, 0xc2b2ae35);
    h = (h ^ (h >>> 15)) & (size - 1);
    for (;;) {
      const v = table[h];
      if (v < 0) {
        if (n === room) {
          room *= 2;
          const more = new Int32Array(3 * room);
          more.set(vertex);
          vertex = more;
        }
        vertex[3 * n] = x;
        vertex[3 * n + 1] = y;
        vertex[3 * n + 2] = z;
        table[h] = n;
        corner[c] = n++;
        break;
      }
      if (vertex[3 * v] === x && vertex[3 * v + 1] === y && vertex[3 * v + 2] === z) {
        corner[c] = v;
        break;
      }
      h = (h + 1) & (size - 1);
    }
  }
  let kept = 0;
  for (let t = 0; t < count; t++) {
    const a = corner[3 * t];
    const b = corner[3 * t + 1];
    const c = corner[3 * t + 2];
    if (a === b || b === c || c === a) continue;
    corner[kept++] = a;
    corner[kept++] = b;
    corner[kept++] = c;
  }
  const faces = kept / 3;
  if (bad)
    scene.warnings.push(
      `${name}: ${bad.toLocaleString('en')} ${bad === 1 ? 'coordinate is' : 'coordinates are'} no number; taken as 0.`,
    );
  if (faces < count)
    scene.warnings.push(
      `${name}: ${(count - faces).toLocaleString('en')} of ${count.toLocaleString('en')} triangles have two ` +
        'corners in one place. Skipped them.',
    );
  const faceStart = new Uint32Array(faces + 1);
  for (let f = 0; f <= faces; f++) faceStart[f] = 3 * f;
  return new Mesh({
    positions: new Float32Array(vertex.buffer, 0, 3 * n).slice(),
    faceStart,
    cornerVertex: kept === corner.length ? corner : corner.slice(0, kept),
    ...countedKeys(n, faces, seed),
  });
}

/** Writes all meshes of a scene as one STL, in their places. Binary unless asked for text. */
export function writeStl(input: Scene, text = false): Uint8Array {
  const meshes = flatten(input).pieces.flatMap((p) =>
    p.mesh && p.mesh.faceCount ? [{ name: p.name, mesh: p.mesh, t: triangulate(p.mesh) }] : [],
  );
  const n = new Float32Array(3);
  const normal = (p: Float32Array, a: number, b: number, c: number) => {
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    const l = hypot(x, y, z) || 1;
    n[0] = x / l;
    n[1] = y / l;
    n[2] = z / l;
  };
  if (text) {
    const out: string[] = [];
    for (const { name, mesh, t } of meshes) {
      const p = mesh.positions;
      const title = name.replace(/\s+/g, ' ').trim();
      out.push(`solid ${title}`);
      for (let i = 0; i < t.corners.length; i += 3) {
        const v = [0, 1, 2].map((k) => 3 * mesh.cornerVertex[t.corners[i + k]]);
        normal(p, v[0], v[1], v[2]);
        out.push(
          `facet normal ${n[0]} ${n[1]} ${n[2]}`,
          ' outer loop',
          ...v.map((q) => `  vertex ${p[q]} ${p[q + 1]} ${p[q + 2]}`),
          ' endloop',
          'endfacet',
        );
      }
      out.push(`endsolid ${title}`);
    }
    return new TextEncoder().encode(`${out.join('\n')}\n`);
  }
  const count = meshes.reduce((s, m) => s + m.t.face.length, 0);
  const bytes = new Uint8Array(HEAD + RECORD * count);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode('Glypta, binary STL'));
  view.setUint32(80, count, true);
  let o = HEAD;
  for (const { mesh, t } of meshes) {
    const p = mesh.positions;
    for (let i = 0; i < t.corners.length; i += 3, o += RECORD) {
      const a = 3 * mesh.cornerVertex[t.corners[i]];
      const b = 3 * mesh.cornerVertex[t.corners[i + 1]];
      const c = 3 * mesh.cornerVertex[t.corners[i + 2]];
      normal(p, a, b, c);
      for (let k = 0; k < 3; k++) {
        view.setFloat32(o + 4 * k, n[k], true);
        view.setFloat32(o + 12 + 4 * k, p[a + k], true);
        view.setFloat32(o + 24 + 4 * k, p[b + k], true);
        view.setFloat32(o + 36 + 4 * k, p[c + k], true);
      }
    }
  }
  return bytes;
}
