/**
 * The looks of materials, their pictures with them, written into pictures on the sheet. Pixels beyond an island's edge
 * take the nearest island's colour up to the bleed, so that filtering never mixes in the background.
 */
import { EVERY, pulse } from '../math/pulse';
import { UV, type ImageData8, type Mesh, type MeshTextures } from '../mesh/mesh';
import { MAPS, type Laid, type Look, type MapName } from '../material';
import { coloursOfCorners } from '../mesh/colours';
import { triangulate } from '../mesh/triangulate';
import { sheetsOfFaces } from '../mesh/uvsheets';
import type { Material } from '../recipe/define';
import { fromHex } from '../formats/scene';
import { fillTriangle } from '../uv/raster';
import { affineOf, byteOf, lightOf, lightOfByte, look, looksOf, onPicture, turning } from './carry';

export interface TextureOptions {
  name: string;
  size: number;
  bleed: number;
  /** Without the colours that the surface has of its own. */
  plain?: boolean;
}

/** The pictures that materials show. */
export interface Pictures {
  /** By id; what could not be read is not among them. */
  pixels: ReadonlyMap<string, ImageData8>;
  /** Where corners lie on the pictures of a UV set, 2 each, NaN where nowhere; undefined where there is no such set. */
  places(set: number): ArrayLike<number> | undefined;
}

const NO_PICTURES: Pictures = { pixels: new Map(), places: () => undefined };
/** Of what has no material; where it has colours of its own these are seen as they are. */
const BARE: Material = { id: '', name: '', color: '#b3b9ac', roughness: 0.8, metalness: 0 };

export function makeTexture(
  mesh: Mesh,
  materials: readonly Material[],
  o: TextureOptions,
  pictures = NO_PICTURES,
): MeshTextures {
  const { of, count } = sheetsOfFaces(mesh, mesh.attributes[UV].data);
  const made = new Map<number, ReturnType<MeshTextures['images']>>();
  let from: Pictures | undefined = pictures;
  const used = mesh.slots.flatMap((id) => materials.find((m) => m.id === id) ?? []);
  return {
    name: o.name,
    size: o.size,
    sheets: count,
    images: (sheet = 0) => {
      const drawn = made.get(sheet) ?? draw(mesh, materials, o, from ?? NO_PICTURES, { of, sheet });
      made.set(sheet, drawn);
      // What it was drawn from may be large.
      if (made.size === count) from = undefined;
      return drawn;
    },
    look: commonLook(used),
  };
}

/** What of several looks can be said of a picture of them all: what any of them needs. */
function commonLook(all: readonly Look[]): Partial<Look> {
  const out: Partial<Look> = {};
  if (all.some((m) => m.bothSides)) out.bothSides = true;
  if (all.length > 0 && all.every((m) => m.unlit)) out.unlit = true;
  const cuts = all.flatMap((m) => m.cut || []);
  if (all.some(isClear)) out.seeThrough = true;
  else if (cuts.length > 0) out.cut = Math.min(...cuts);
  if (all.some(glows)) {
    out.glow = '#ffffff';
    out.glowStrength = brightest(all);
  }
  return out;
}

const isClear = (m: Look & { opacity?: number }): boolean => !m.cut && (m.seeThrough === true || (m.opacity ?? 1) < 1);
const glows = (m: Look): boolean => m.glow !== undefined && m.glow !== '#000000';
const brightest = (all: readonly Look[]): number => Math.max(0, ...all.filter(glows).map((m) => m.glowStrength ?? 1));

/** One picture of a material as it is drawn from. */
interface Source {
  image: ImageData8;
  laid?: Laid;
  places: ArrayLike<number>;
}

/** What a material puts into one of the pictures: without a picture of its own, and from what that shows. */
interface Ink {
  plain: readonly [number, number, number, number];
  source?: Source;
  /** Bytes of what was looked up: light for colours, else as it is. */
  from(seen: Float64Array, turned: Float64Array | undefined, out: Uint8Array, at: number): void;
}

const byte = (x: number): number => Math.round(255 * Math.min(1, Math.max(0, x)));
const isColour = (name: MapName): boolean => name === 'color' || name === 'glow';

function inkOf(name: MapName, m: Material, most: number, pictures: Pictures): Ink {
  const id = m.maps?.[name];
  const image = id === undefined ? undefined : pictures.pixels.get(id);
  const laid = m.laid?.[name];
  const places = image && pictures.places(laid?.set ?? 0);
  const source = image && places ? { image, laid, places } : undefined;
  const strength = laid?.strength ?? 1;
  const light = lightOf(fromHex(m.color));
  const glow = lightOf(fromHex(m.glow ?? '#000000')).map((x) => (x * (m.glowStrength ?? 1)) / (most || 1));
  const clear = m.cut || isClear(m);
  const by = m.tinted ? 1 : 0;
  switch (name) {
    case 'color':
      return {
        plain: [...(fromHex(m.color).map(byte) as [number, number, number]), clear ? byte(m.opacity ?? 1) : 255],
        source,
        from: (seen, _turned, out, at) => {
          for (let k = 0; k < 3; k++) out[at + k] = byteOf(seen[k] * (by ? light[k] : 1));
          out[at + 3] = clear ? byte(seen[3] * (m.opacity ?? 1)) : 255;
        },
      };
    case 'surface':
      return {
        plain: [255, byte(m.roughness), byte(m.metalness), 255],
        source,
        from: (seen, _turned, out, at) => {
          out[at] = 255;
          out[at + 1] = byte(seen[1] * (by ? m.roughness : 1));
          out[at + 2] = byte(seen[2] * (by ? m.metalness : 1));
          out[at + 3] = 255;
        },
      };
    case 'normal':
      return { plain: [128, 128, 255, 255], source, from: (...all) => writeNormal(strength, ...all) };
    case 'shade':
      return {
        plain: [255, 255, 255, 255],
        source,
        from: (seen, _turned, out, at) => {
          out.fill(byte(1 + (seen[0] - 1) * strength), at, at + 3);
          out[at + 3] = 255;
        },
      };
    case 'glow':
      return {
        plain: [byteOf(glow[0]), byteOf(glow[1]), byteOf(glow[2]), 255],
        source,
        from: (seen, _turned, out, at) => {
          for (let k = 0; k < 3; k++) out[at + k] = byteOf(seen[k] * glow[k]);
          out[at + 3] = 255;
        },
      };
  }
}

/** A direction, turned as the sheet is. */
function writeNormal(
  strength: number,
  seen: Float64Array,
  turned: Float64Array | undefined,
  out: Uint8Array,
  at: number,
): void {
  const x = strength * (2 * seen[0] - 1);
  const y = strength * (2 * seen[1] - 1);
  const z = 2 * seen[2] - 1;
  const l = Math.hypot(x, y, z) || 1;
  const [a, b, c, d] = turned ?? [1, 0, 0, 1];
  out[at] = byte(0.5 + (a * x + b * y) / l / 2);
  out[at + 1] = byte(0.5 + (c * x + d * y) / l / 2);
  out[at + 2] = byte(0.5 + z / l / 2);
  out[at + 3] = 255;
}

function draw(
  mesh: Mesh,
  materials: readonly Material[],
  o: TextureOptions,
  pictures: Pictures,
  { of, sheet }: { of: Uint8Array; sheet: number },
): ReturnType<MeshTextures['images']> {
  const n = o.size;
  const slot = mesh.attributes.material?.data;
  const tints = o.plain ? undefined : coloursOfCorners(mesh);
  const none = tints ? { ...BARE, color: '#ffffff' } : BARE;
  const looks = [...mesh.slots.map((id) => materials.find((m) => m.id === id) ?? none), none];
  const most = brightest(looks);
  const shown = MAPS.filter(
    (name) =>
      name === 'color' ||
      name === 'surface' ||
      (name === 'glow' ? looks.some(glows) : looks.some((m) => inkOf(name, m, most, pictures).source !== undefined)),
  );
  const layers = shown.map((name) => ({
    name,
    data: new Uint8Array(4 * n * n),
    inks: looks.map((m) => inkOf(name, m, most, pictures)),
  }));
  const from = new Int32Array(n * n).fill(-1); // the pixel that each pixel is like; -1 for none
  const t = triangulate(mesh);
  const triangle = new OnSheet(mesh, n, sheet);
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    if (of[t.face[i]] !== sheet) continue;
    const s = slot ? slot[t.face[i]] : -1;
    const own = s >= 0 && s < looks.length - 1 ? s : looks.length - 1;
    triangle.of(t.corners, i);
    const brushes = layers.map(({ name, data, inks }) => brushOf(triangle, inks[own], name, data));
    const tint = tints && tintOf(triangle, tints, layers[0].data);
    const at = triangle.pixels;
    fillTriangle(at[0], at[1], at[2], at[3], at[4], at[5], n, n, (y, x0, x1) => {
      for (let x = x0; x <= x1; x++) from[y * n + x] = y * n + x;
      for (const brush of brushes) brush(y, x0, x1);
      tint?.(y, x0, x1);
    });
  }
  bleed(from, n, o.bleed);
  const out: Partial<Record<MapName, ImageData8>> = {};
  for (const { name, data, inks } of layers) {
    const words = new Uint32Array(data.buffer);
    const bare = new Uint32Array(Uint8Array.from(inks[inks.length - 1].plain).buffer)[0];
    for (let i = 0; i < from.length; i++) {
      if ((i & EVERY) === 0) pulse();
      if (from[i] !== i) words[i] = from[i] < 0 ? bare : words[from[i]];
    }
    out[name] = { width: n, height: n, data };
  }
  return out as ReturnType<MeshTextures['images']>;
}

/** The triangle that is drawn: where it lies, in pixels from the upper left, and on the surface. */
class OnSheet {
  readonly pixels = new Float64Array(6);
  readonly uv = new Float64Array(6);
  readonly surface = new Float64Array(9);
  readonly corners = new Uint32Array(3);

  constructor(
    private readonly mesh: Mesh,
    readonly size: number,
    private readonly sheet: number,
  ) {}

  of(corners: Uint32Array, triangle: number): void {
    const uv = this.mesh.attributes[UV].data;
    const p = this.mesh.positions;
    for (let k = 0; k < 3; k++) {
      const c = corners[3 * triangle + k];
      this.corners[k] = c;
      this.uv[2 * k] = uv[2 * c];
      this.uv[2 * k + 1] = uv[2 * c + 1];
      // Pictures run from the top, UVs from the bottom.
      this.pixels[2 * k] = (uv[2 * c] - this.sheet) * this.size;
      this.pixels[2 * k + 1] = (1 - uv[2 * c + 1]) * this.size;
      const v = 3 * this.mesh.cornerVertex[c];
      for (let q = 0; q < 3; q++) this.surface[3 * k + q] = p[v + q];
    }
  }
}

/** Writes a row of pixels of a triangle, x0 to x1. */
function brushOf(on: OnSheet, ink: Ink, name: MapName, data: Uint8Array): (y: number, x0: number, x1: number) => void {
  const { size, corners } = on;
  const { source } = ink;
  const old = new Float64Array(6);
  const onOld = new Float64Array(6);
  if (source)
    for (let k = 0; k < 3; k++) {
      const [u, v] = [source.places[2 * corners[k]], source.places[2 * corners[k] + 1]];
      const [x, y] = onPicture(source.image, source.laid, u, v);
      old.set([x, y], 2 * k);
      // As pictures lie, but upwards: that is the way directions are said.
      onOld.set([x / source.image.width, 1 - y / source.image.height], 2 * k);
    }
  // What has no place on the picture (NaN) shows none of it.
  const m = source && old.every(Number.isFinite) ? affineOf(on.pixels, old) : undefined;
  if (!source || !m) {
    const [word] = new Uint32Array(Uint8Array.from(ink.plain).buffer);
    const words = new Uint32Array(data.buffer);
    return (y, x0, x1) => {
      words.fill(word, y * size + x0, y * size + x1 + 1);
    };
  }
  const looks = looksOf(m);
  const turned = name === 'normal' ? turning(on.surface, onOld, on.uv) : undefined;
  const seen = new Float64Array(4);
  const srgb = isColour(name);
  return (y, x0, x1) => {
    for (let x = x0; x <= x1; x++) {
      look(source.image, m, looks, x, y, srgb, seen);
      ink.from(seen, turned, data, 4 * (y * size + x));
    }
  };
}

/** Multiplies what was drawn of a triangle by its own colours; undefined where these are white. */
function tintOf(
  { corners, pixels, size }: OnSheet,
  tints: Float32Array,
  data: Uint8Array,
): ((y: number, x0: number, x1: number) => void) | undefined {
  const of = (c: number, k: number): number => tints[4 * corners[c] + k];
  const pair = (k: number): number[] => [0, 1, 2].flatMap((c) => [of(c, k), of(c, k + 1)]);
  const [rg, ba] = [affineOf(pixels, pair(0)), affineOf(pixels, pair(2))];
  if (!rg || !ba || [0, 1, 2].every((c) => [0, 1, 2, 3].every((k) => of(c, k) === 1))) return undefined;
  const maps = [rg.subarray(0, 3), rg.subarray(3), ba.subarray(0, 3)];
  return (y, x0, x1) => {
    for (let x = x0; x <= x1; x++) {
      const at = 4 * (y * size + x);
      for (let k = 0; k < 3; k++) {
        const m = maps[k];
        data[at + k] = byteOf(lightOfByte(data[at + k]) * (m[0] * (x + 0.5) + m[1] * (y + 0.5) + m[2]));
      }
      // How opaque a colour is counts where the material can be seen through at all.
      if (data[at + 3] < 255)
        data[at + 3] = byte((data[at + 3] / 255) * (ba[3] * (x + 0.5) + ba[4] * (y + 0.5) + ba[5]));
    }
  };
}

/** Spreads values outwards from the islands, ring by ring: a frontier of pixels, each visited once. */
function bleed(of: Int32Array, n: number, rings: number): void {
  let front: number[] = [];
  const open = (i: number) => of[i] < 0;
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      if ((x & EVERY) === 0) pulse();
      const i = y * n + x;
      if (
        !open(i) &&
        ((x > 0 && open(i - 1)) || (x + 1 < n && open(i + 1)) || (y > 0 && open(i - n)) || (y + 1 < n && open(i + n)))
      )
        front.push(i);
    }
  for (let r = 0; r < rings && front.length; r++) {
    if ((r & EVERY) === 0) pulse();
    const next: number[] = [];
    const diagonal = r % 2 === 1; // alternating four and eight neighbours keeps the rim round
    for (const i of front) {
      const x = i % n;
      const y = (i - x) / n;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          if ((dx === 0 && dy === 0) || (!diagonal && dx !== 0 && dy !== 0)) continue;
          const xx = x + dx;
          const yy = y + dy;
          if (xx < 0 || yy < 0 || xx >= n || yy >= n) continue;
          const j = yy * n + xx;
          if (open(j)) {
            of[j] = of[i];
            next.push(j);
          }
        }
    }
    front = next;
  }
}
