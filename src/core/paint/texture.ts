/**
 * Colours of materials written into pictures on the sheet: one for colour, one for roughness and metalness. Pixels
 * beyond an island's edge take the nearest island's colour up to the bleed, so that filtering never mixes in the
 * background.
 */
import { EVERY, pulse } from '../math/pulse';
import { UV, type ImageData8, type Mesh, type MeshTextures } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import type { Material } from '../recipe/define';
import { fromHex } from '../formats/scene';
import { fillTriangle } from '../uv/raster';

export interface TextureOptions {
  name: string;
  size: number;
  bleed: number;
}

const BARE = { color: [0.702, 0.725, 0.675], roughness: 0.8, metalness: 0 };

export function makeTexture(mesh: Mesh, materials: readonly Material[], o: TextureOptions): MeshTextures {
  let made: ReturnType<MeshTextures['images']> | undefined;
  return { name: o.name, size: o.size, images: () => (made ??= draw(mesh, materials, o)) };
}

function draw(mesh: Mesh, materials: readonly Material[], o: TextureOptions): ReturnType<MeshTextures['images']> {
  const n = o.size;
  const uv = mesh.attributes[UV].data;
  const slot = mesh.attributes.material?.data;
  const looks = mesh.slots
    .map((id) => materials.find((m) => m.id === id))
    .map((m) => (m ? { color: fromHex(m.color), roughness: m.roughness, metalness: m.metalness } : BARE));
  const of = new Int16Array(n * n).fill(-1); // which look each pixel has; -1 for none
  const t = triangulate(mesh);
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const s = slot ? slot[t.face[i]] : -1;
    const look = s >= 0 && s < looks.length ? s : looks.length;
    const at = (k: number) => 2 * t.corners[3 * i + k];
    // Pictures run from the top, UVs from the bottom.
    fillTriangle(
      uv[at(0)] * n,
      (1 - uv[at(0) + 1]) * n,
      uv[at(1)] * n,
      (1 - uv[at(1) + 1]) * n,
      uv[at(2)] * n,
      (1 - uv[at(2) + 1]) * n,
      n,
      n,
      (y, x0, x1) => of.fill(look, y * n + x0, y * n + x1 + 1),
    );
  }
  bleed(of, n, o.bleed);
  // Whole pixels at once: bytes of a look as one little-endian word.
  const word = (r: number, g: number, b: number) =>
    ((255 << 24) | (Math.round(b * 255) << 16) | (Math.round(g * 255) << 8) | Math.round(r * 255)) >>> 0;
  const colors = Uint32Array.from([...looks, BARE], (l) => word(l.color[0], l.color[1], l.color[2]));
  const surfaces = Uint32Array.from([...looks, BARE], (l) => word(1, l.roughness, l.metalness));
  const bare = looks.length;
  const c32 = new Uint32Array(n * n);
  const s32 = new Uint32Array(n * n);
  for (let i = 0; i < of.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const look = of[i] >= 0 ? of[i] : bare;
    c32[i] = colors[look];
    s32[i] = surfaces[look];
  }
  const color: ImageData8 = { width: n, height: n, data: new Uint8Array(c32.buffer) };
  const surface: ImageData8 = { width: n, height: n, data: new Uint8Array(s32.buffer) };
  return { color, surface };
}

/** Spreads values outwards from the islands, ring by ring: a frontier of pixels, each visited once. */
function bleed(of: Int16Array, n: number, rings: number): void {
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
