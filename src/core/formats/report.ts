/** What is to be said of a model: counts, shape, measures, UV figures. Names as the command line prints them. */
import { mergeMeshes } from '../edit/merge';
import { boundsOf, type Bounds } from '../mesh/bounds';
import { selfCrossings } from '../mesh/crossings';
import { areaOf, shapeOf, volumeOf, type Shape } from '../mesh/measure';
import { massOf, pinchedVertices } from '../mesh/mass';
import { triangulate } from '../mesh/triangulate';
import { UV, uvSets, type Mesh } from '../mesh/mesh';
import { plainFigures, uvFigures, type PlainFigures } from '../uv/measure';
import { flatten, type Scene } from './scene';

/**
 * Loose vertices and doubled faces are for the bench to point at; here they would be two more numbers without a place.
 */
export interface Report extends Omit<Shape, 'looseVertices' | 'doubledFaces'> {
  area: number;
  /** Of what is closed; what is open encloses nothing. */
  volume: number | null;
  /** What an open mesh would enclose if its openings were covered by cones from the middle of its bounds. */
  volumeIfClosed: number;
  centreOfMass: [number, number, number] | null;
  /** Ixx, Iyy, Izz, Ixy, Ixz, Iyz about the centre of mass, for a density of 1. */
  inertia: number[] | null;
  /** Vertices where two or more fans of faces meet. */
  pinchedVertices: number;
  /** Pairs of faces that pass through one another. */
  selfCrossings: number;
  bounds: Bounds;
  groups: string[];
  materials: string[];
  /** Triangles that lie face down on the sheet. */
  flippedUvs: number;
  uv: { sets: number } & PlainFigures;
  warnings: string[];
}

const NO_UV: PlainFigures = {
  islands: 0,
  coverage: 0,
  overlap: 0,
  outside: 0,
  stretchMean: 0,
  stretchMax: 0,
  flips: 0,
  texelDensityMin: 0,
  texelDensityMax: 0,
};

/** All meshes of a scene as one, side by side. Face groups are named by their own name, or by their piece. */
export function mergeScene(scene: Scene): Mesh {
  const parts = flatten(scene).pieces.flatMap((p, i) => (p.mesh ? [{ mesh: p.mesh, name: p.name, seed: i + 1 }] : []));
  return parts.length === 1 ? parts[0].mesh : mergeMeshes(parts);
}

function flippedTriangles(mesh: Mesh, uv: ArrayLike<number>): number {
  const { corners } = triangulate(mesh);
  let n = 0;
  for (let i = 0; i < corners.length; i += 3) {
    const [a, b, c] = [2 * corners[i], 2 * corners[i + 1], 2 * corners[i + 2]];
    const area = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[c] - uv[a]) * (uv[b + 1] - uv[a + 1]);
    if (area < -1e-12) n++;
  }
  return n;
}

export function reportOf(scene: Scene): Report {
  const mesh = mergeScene(scene);
  const { looseVertices: _loose, doubledFaces: _doubled, ...shape } = shapeOf(mesh);
  const meshes = scene.pieces.filter((p) => p.mesh);
  const sets = Math.max(0, ...meshes.map((p) => uvSets(p.mesh!).length));
  const groups = new Set<string>();
  const used = new Set<string>();
  for (const p of meshes) {
    for (const g of p.mesh!.groups) groups.add(g);
    for (const id of p.mesh!.slots) used.add(scene.materials.find((m) => m.id === id)?.name ?? id);
  }
  if (groups.size === 0 && meshes.length > 1) for (const p of meshes) groups.add(p.name);
  const uv = mesh.attributes[UV]?.data;
  const figures = uv ? plainFigures(uvFigures(mesh, uv)) : NO_UV;
  const mass = shape.closed ? massOf(mesh) : undefined;
  return {
    ...shape,
    area: areaOf(mesh),
    volume: shape.closed ? volumeOf(mesh) : null,
    volumeIfClosed: volumeOf(mesh),
    centreOfMass: mass?.centre ?? null,
    inertia: mass?.inertia ?? null,
    pinchedVertices: pinchedVertices(mesh).length,
    selfCrossings: selfCrossings(mesh),
    bounds: boundsOf(mesh.positions),
    groups: [...groups],
    materials: [...used],
    flippedUvs: uv ? flippedTriangles(mesh, uv) : 0,
    uv: { sets, ...figures },
    warnings: scene.warnings,
  };
}
