import { packScene, writePng, flatten, type Scene } from '../../core/formats';
import { boundsOfGeometry } from '../../core/geometry';
import { joinBounds, shapeOf, type Bounds, UV, type Mesh, triangleCount } from '../../core/mesh';
import { uvFigures } from '../../core/uv';
import { buildScene, type ShipOptions } from '../../document/build';
import type { ProjectDocument } from '../../document/types';
import type { Host, Task } from '../host';
import { defineCall } from './define';

const build = (host: Host, options: ShipOptions, task: Task, encode: typeof writePng) =>
  buildScene(host.doc, options, {
    memory: host.memory,
    blob: host.blob,
    encode,
    cancelled: task.cancelled,
    progress: (share) => task.progress({ share }),
  });

interface ShipQuery {
  options: ShipOptions;
  format: string;
}

/** Pieces as the bytes of a file. */
export const ship = defineCall(async (host, { options, format }: ShipQuery, task) => {
  const { scene } = await build(host, options, task, writePng);
  const name = host.doc.name.replace(/\s+/g, '-').toLowerCase();
  const { bytes, ending } = await packScene(scene, format, name, false);
  task.transfer.push(bytes.buffer as ArrayBuffer);
  return { file: bytes, ending, warnings: scene.warnings };
});

/** What there is to know of pieces before they leave. */
export const check = defineCall(async (host, { options }: { options: ShipOptions }, task) => {
  const { scene } = await build(host, options, task, () => new Uint8Array(0));
  const warnings = [...scene.warnings];
  let triangles = 0;
  const seen = new Set<Mesh>();
  for (const p of scene.pieces) {
    if (!p.mesh) continue;
    triangles += triangleCount(p.mesh);
    if (seen.has(p.mesh)) continue; // a linked copy
    seen.add(p.mesh);
    warnings.push(...faults(p.name, p.mesh));
  }
  const flat = flatten({ ...scene, scale: undefined });
  warnings.push(...limits(host.doc, flat, triangles, options.unit));
  return { warnings, triangles };
});

function faults(name: string, mesh: Mesh): string[] {
  const out: string[] = [];
  const s = shapeOf(mesh);
  if (s.openEdges) out.push(`${name} has ${s.openEdges} open edges.`);
  if (s.nonManifoldEdges) out.push(`${name} has ${s.nonManifoldEdges} edges on three or more faces.`);
  if (s.doubledFaces) out.push(`${name} has ${s.doubledFaces} doubled faces.`);
  const sheet = mesh.attributes[UV];
  const covered = sheet ? uvFigures(mesh, sheet.data, 512).overlap : 0;
  if (covered > 0.001) out.push(`${name}: ${(100 * covered).toFixed(1)} % of the sheet is covered twice.`);
  return out;
}

/** What the project's settings ask of what leaves: its triangle budget, and the printer's bed. */
function limits(doc: ProjectDocument, flat: Scene, triangles: number, unit: number): string[] {
  const out: string[] = [];
  const { triangles: budget, bed } = doc.settings;
  if (budget > 0 && triangles > budget)
    out.push(
      `${triangles.toLocaleString('en')} triangles are ${(triangles - budget).toLocaleString('en')} more than ` +
        `the project's budget.`,
    );
  if (doc.purpose === 'print') {
    let all: Bounds | null = null;
    for (const p of flat.pieces) all = joinBounds(all, boundsOfGeometry(p));
    const { min, max } = all ?? { min: [0, 0, 0], max: [0, 0, 0] };
    const size = [0, 1, 2].map((k) => (max[k] - min[k]) * unit).sort((a, b) => b - a);
    const room = [...bed].sort((a, b) => b - a);
    if (size.some((x, k) => x > room[k]))
      out.push(
        `It is ${size.map((x) => `${(x * 1000).toFixed(0)}`).join(' × ')} mm, more than the printer's bed of ` +
          `${room.map((x) => `${(x * 1000).toFixed(0)}`).join(' × ')} mm holds.`,
      );
  }
  return out;
}
