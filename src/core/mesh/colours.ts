/** Colours of their own that several meshes have, or only some of them, made alike: for joining them. */
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
