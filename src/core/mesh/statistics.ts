/** What there is to know of an attribute: its range, its mean, and how its values are spread. */
import { isOwn, type Attribute, type Mesh } from './mesh';

export interface AttributeFacts {
  name: string;
  domain: Attribute['domain'];
  width: number;
  count: number;
  min: number;
  mean: number;
  max: number;
  /** How many values lie in each of so many equal parts of the range. */
  spread: number[];
}

const PARTS = 24;

/** The size of each value: itself where it is one number, its length where there are several. */
export function sizesOf({ width, data }: Attribute): Float32Array {
  if (width === 1) return Float32Array.from(data);
  const out = new Float32Array(data.length / width);
  for (let i = 0; i < out.length; i++) {
    let sum = 0;
    for (let k = 0; k < width; k++) sum += data[width * i + k] ** 2;
    out[i] = Math.sqrt(sum);
  }
  return out;
}

/** Of every attribute that a person noted. */
export function attributesOf(mesh: Mesh): AttributeFacts[] {
  return Object.entries(mesh.attributes)
    .filter(([name]) => isOwn(name) || name === 'copy')
    .map(([name, a]) => factsOf(name, a));
}

function factsOf(name: string, a: Attribute): AttributeFacts {
  const values = sizesOf(a);
  let [min, max, sum] = [Infinity, -Infinity, 0];
  for (const x of values) {
    if (x < min) min = x;
    if (x > max) max = x;
    sum += x;
  }
  const spread = new Array<number>(PARTS).fill(0);
  const span = max - min;
  for (const x of values) spread[span > 0 ? Math.min(PARTS - 1, Math.floor(((x - min) / span) * PARTS)) : 0]++;
  const n = values.length;
  return {
    name,
    domain: a.domain,
    width: a.width,
    count: n,
    min: n ? min : 0,
    mean: n ? sum / n : 0,
    max: n ? max : 0,
    spread,
  };
}

/** From low to high: slate, sea green, sand. sRGB. */
const RAMP: readonly (readonly [number, number, number])[] = [
  [0.15, 0.2, 0.23],
  [0.18, 0.52, 0.45],
  [0.92, 0.85, 0.63],
];

/** The mesh in the colours of an attribute, its materials aside; undefined where it has none of that name. */
export function inColoursOf(mesh: Mesh, name: string): { mesh: Mesh; min: number; max: number } | undefined {
  const a = mesh.attributes[name];
  if (!a) return undefined;
  const values = sizesOf(a);
  const { min, max } = factsOf(name, a);
  const span = max - min || 1;
  const of = { vertex: (c: number) => mesh.cornerVertex[c], corner: (c: number) => c, face: undefined }[a.domain];
  const data = new Float32Array(4 * mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const t = (2 * (values[of ? of(c) : f] - min)) / span;
      const i = t < 1 ? 0 : 1;
      for (let k = 0; k < 3; k++) data[4 * c + k] = RAMP[i][k] + (RAMP[i + 1][k] - RAMP[i][k]) * (t - i);
      data[4 * c + 3] = 1;
    }
  const { material: _, ...rest } = mesh.attributes;
  return {
    mesh: mesh.with({ slots: [], attributes: { ...rest, color: { domain: 'corner', width: 4, data } } }),
    min,
    max,
  };
}
