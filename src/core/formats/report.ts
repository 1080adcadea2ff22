/** What is to be said of a model: counts, shape, measures, UV figures. Names as the command line prints them. */
import { areaOf, boundsOf, shapeOf, volumeOf, type Bounds } from '../mesh/measure';
import { Mesh, UV, uvSets } from '../mesh/mesh';
import { uvFigures } from '../uv/measure';
import type { Scene } from './scene';

export interface Report {
  vertices: number; edges: number; faces: number; triangles: number; components: number; eulerCharacteristic: number;
  openEdges: number; nonManifoldEdges: number; closed: boolean; oriented: boolean;
  area: number; volume: number; bounds: Bounds; groups: string[]; materials: string[];
  uv: { sets: number; islands: number; coverage: number; overlap: number; outside: number; stretchMean: number; stretchMax: number; texelDensityMin: number; texelDensityMax: number };
  warnings: string[];
}

/** All meshes of a scene as one, side by side. Face groups are named by their own name, or by their piece. */
export function mergeScene(scene: Scene): Mesh {
  const meshes = scene.pieces.flatMap((p) => (p.mesh ? [p.mesh] : []));
  if (meshes.length === 1) return meshes[0];
  const sum = (f: (m: Mesh) => number) => meshes.reduce((n, m) => n + f(m), 0);
  const positions = new Float32Array(sum((m) => m.positions.length)), cornerVertex = new Uint32Array(sum((m) => m.cornerCount)), faceStart = new Uint32Array(sum((m) => m.faceCount) + 1);
  const anyUv = meshes.some((m) => m.attributes[UV]), uv = new Float32Array(anyUv ? 2 * cornerVertex.length : 0);
  let v = 0, c = 0, f = 0;
  for (const m of meshes) {
    positions.set(m.positions, 3 * v);
    for (let i = 0; i < m.cornerCount; i++) cornerVertex[c + i] = m.cornerVertex[i] + v;
    for (let i = 0; i < m.faceCount; i++) faceStart[f + i + 1] = m.faceStart[i + 1] + c;
    if (m.attributes[UV]) uv.set(m.attributes[UV].data, 2 * c);
    v += m.vertexCount; c += m.cornerCount; f += m.faceCount;
  }
  return new Mesh({ positions, cornerVertex, faceStart, vertexKey: () => Float64Array.from({ length: v }, (_, i) => i), faceKey: () => Float64Array.from({ length: f }, (_, i) => i), ...(anyUv ? { attributes: { [UV]: { domain: 'corner', width: 2, data: uv } } } : {}) });
}

export function reportOf(scene: Scene): Report {
  const mesh = mergeScene(scene), s = shapeOf(mesh);
  const meshes = scene.pieces.filter((p) => p.mesh);
  const sets = Math.max(0, ...meshes.map((p) => uvSets(p.mesh!).length));
  const groups = new Set<string>(), used = new Set<string>();
  for (const p of meshes) {
    for (const g of p.mesh!.groups) groups.add(g);
    for (const id of p.mesh!.slots) used.add(scene.materials.find((m) => m.id === id)?.name ?? id);
  }
  if (groups.size === 0 && meshes.length > 1) for (const p of meshes) groups.add(p.name);
  const figures = mesh.attributes[UV] ? uvFigures(mesh, mesh.attributes[UV].data) : { islands: 0, coverage: 0, overlap: 0, outside: 0, stretchMean: 0, stretchMax: 0, texelDensityMin: 0, texelDensityMax: 0 };
  return {
    vertices: s.vertices, edges: s.edges, faces: s.faces, triangles: s.triangles, components: s.components, eulerCharacteristic: s.eulerCharacteristic,
    openEdges: s.openEdges, nonManifoldEdges: s.nonManifoldEdges, closed: s.closed, oriented: s.oriented,
    area: areaOf(mesh), volume: volumeOf(mesh), bounds: boundsOf(mesh.positions), groups: [...groups], materials: [...used],
    uv: { sets, ...figures }, warnings: scene.warnings,
  };
}
