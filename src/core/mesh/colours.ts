/** Colours of their own that several meshes have, or only some of them, made alike: for joining them. */
import { toLinear } from '../math/colour';
import { COLOR, type Attribute, type Mesh } from './mesh';

const WIDE = 4;

function coloursAt(mesh: Mesh, domain: 'vertex' | 'corner'): Attribute {
  const own = mesh.attributes[COLOR];
  const count = domain === 'vertex' ? mesh.vertexCount : mesh.cornerCount;
  const data = new Float32Array(WIDE * count).fill(1);
  if (!own || own.domain === 'face' || own.width < 3) return { domain, width: WIDE, data };
  for (let i = 0; i < count; i++) {
    const from = own.width * (own.domain === 'vertex' && domain === 'corner' ? mesh.cornerVertex[i] : i);
    for (let k = 0; k < Math.min(WIDE, own.width); k++) data[WIDE * i + k] = own.data[from + k];
  }
  return { domain, width: WIDE, data };
}

/** Where one has colours all have: white where nothing was said, of corners where some have these. */
export function alikeColoured(meshes: readonly Mesh[]): readonly Mesh[] {
  const own = meshes.map((m) => m.attributes[COLOR]).filter((a) => a !== undefined);
  if (own.length === 0) return meshes;
  const domain = own.every((a) => a.domain === 'vertex') ? 'vertex' : 'corner';
  if (own.length === meshes.length && own.every((a) => a.domain === domain && a.width === WIDE)) return meshes;
  return meshes.map((m) => m.withAttribute(COLOR, coloursAt(m, domain)));
}

/** Colours of its own as light, four per corner, opacity last; undefined where it has none. */
export function coloursOfCorners(mesh: Mesh): Float32Array | undefined {
  const own = mesh.attributes[COLOR];
  if (!own || own.domain === 'face' || own.width < 3) return undefined;
  const out = new Float32Array(WIDE * mesh.cornerCount).fill(1);
  for (let c = 0; c < mesh.cornerCount; c++) {
    const from = own.width * (own.domain === 'vertex' ? mesh.cornerVertex[c] : c);
    for (let k = 0; k < 3; k++) out[WIDE * c + k] = toLinear(own.data[from + k]);
    if (own.width > 3) out[WIDE * c + 3] = own.data[from + 3];
  }
  return out;
}
