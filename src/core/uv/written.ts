/** A layout that was worked out, written down under a name of all that it follows from. */
import { Digest } from '../math/hash';
import { UV, type Mesh } from '../mesh/mesh';
import { unwrapMesh, type UnwrapOptions, type Unwrapped } from './unwrap';

/** Of how many numbers beside the places, in this order. */
const FIGURES = [
  'islands',
  'density',
  'heldDensity',
  'beyond',
  'mean',
  'heldCut',
  'padding',
  'size',
  'stuck',
  'apart',
] as const satisfies readonly (keyof Unwrapped)[];
const HEAD = 8 * (FIGURES.length + 2);

/** Unwrapping that need not be done twice. */
export const unwrapping = (mesh: Mesh, o: UnwrapOptions) => ({
  name: () => nameOfUnwrapping(mesh, o),
  work: () => unwrapMesh(mesh, o),
  write: writeUnwrapped,
  read: (bytes: Uint8Array) => readUnwrapped(mesh, bytes),
});

/** The same for the same surface and the same wishes, and for no others. */
export function nameOfUnwrapping(mesh: Mesh, o: UnwrapOptions): string {
  const d = new Digest();
  d.data(mesh.positions).data(mesh.faceStart).data(mesh.cornerVertex);
  for (const name of Object.keys(mesh.attributes).sort()) {
    const { domain, width, data } = mesh.attributes[name];
    d.text(`${name}/${domain}/${width}`).data(data);
  }
  for (const [name, value] of Object.entries(o).sort(([a], [b]) => (a < b ? -1 : 1))) {
    if (value === undefined || typeof value === 'function') continue;
    d.text(name);
    if (value instanceof Set) d.data(Float64Array.from(value as Set<number>).sort());
    else if (value instanceof Map) d.data(Float64Array.from([...(value as Map<number, number[]>)].flat(2)));
    else d.text(JSON.stringify(value));
  }
  return d.name;
}

export function writeUnwrapped(out: Unwrapped): Uint8Array {
  const uv = out.mesh.attributes[UV].data as Float32Array;
  const bytes = new Uint8Array(HEAD + 4 * uv.length);
  new Float64Array(bytes.buffer, 0, FIGURES.length + 2).set([
    uv.length,
    Number(out.tooDense),
    ...FIGURES.map((name) => out[name]),
  ]);
  new Float32Array(bytes.buffer, HEAD).set(uv);
  return bytes;
}

/** Undefined where they are not of that mesh. */
export function readUnwrapped(mesh: Mesh, bytes: Uint8Array): Unwrapped | undefined {
  if (bytes.length !== HEAD + 8 * mesh.cornerCount) return undefined;
  const own = bytes.byteOffset % 8 === 0 ? bytes : bytes.slice();
  const [length, tooDense, ...figures] = new Float64Array(own.buffer, own.byteOffset, FIGURES.length + 2);
  const uv = new Float32Array(own.buffer, own.byteOffset + HEAD, 2 * mesh.cornerCount).slice();
  if (length !== uv.length || !figures.every(Number.isFinite) || !uv.every(Number.isFinite)) return undefined;
  return {
    mesh: mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }),
    tooDense: tooDense === 1,
    ...(Object.fromEntries(FIGURES.map((name, i) => [name, figures[i]])) as Record<(typeof FIGURES)[number], number>),
  };
}
