import { boundsOfGeometry, whole } from '../../core/geometry';
import { areaOf, joinBounds, volumeOf, type Mesh } from '../../core/mesh';
import { fromHex } from '../../core/formats';
import { sketch } from '../../core/render';
import { emptyMesh } from '../../core/mesh/mesh';
import { followDocument } from '../../document/follow';
import { defineCall } from './define';

export interface StepNumbers {
  faces: number;
  vertices: number;
  /** m², m³, metres. */
  area: number;
  volume: number;
  size: [number, number, number];
}
/** Both steps drawn alike, so that one may be laid over the other. */
interface Drawn {
  width: number;
  height: number;
  pictures: [Uint8Array, Uint8Array];
}
export interface Compared {
  drawn: Drawn;
  a: StepNumbers;
  b: StepNumbers;
  /**
   * Of the vertices that both have: how many are elsewhere, the farthest by how much, and how far on average. Metres.
   */
  shared: number;
  moved: number;
  most: number;
  mean: number;
}

function numbersOf(mesh: Mesh): StepNumbers {
  const b = boundsOfGeometry({ mesh });
  const size = [0, 1, 2].map((k) => (b ? b.max[k] - b.min[k] : 0)) as [number, number, number];
  return { faces: mesh.faceCount, vertices: mesh.vertexCount, area: areaOf(mesh), volume: volumeOf(mesh), size };
}

const PICTURE = { width: 440, height: 280 };
const LOOK = { top: fromHex('#f1ede5'), bottom: fromHex('#d6cebf') };
const CLAY = fromHex('#b3b9ac');

/** From one place, so far off that both are in the picture. */
function draw(a: Mesh, b: Mesh): Drawn {
  const bounds = joinBounds(boundsOfGeometry({ mesh: a }), boundsOfGeometry({ mesh: b }));
  const pictures = [a, b].map(
    (mesh) =>
      sketch([{ geometry: { mesh }, smooth: 0.6, color: () => CLAY }], {
        ...PICTURE,
        ...LOOK,
        bounds: bounds ?? undefined,
      }).data,
  );
  return { ...PICTURE, pictures: pictures as [Uint8Array, Uint8Array] };
}

/** Nearer than this nothing has moved. */
const STILL = 1e-9;

/** Two steps of a recipe side by side, in numbers. */
export const compare = defineCall(
  async (host, { piece, steps }: { piece: string; steps: readonly [string, string] }, task): Promise<Compared> => {
    const of = host.doc.pieces.find((p) => p.id === piece);
    if (!of) throw new Error('The piece is no longer there.');
    const followed = followDocument(host.doc, {
      memory: host.memory,
      blob: host.blob,
      cancelled: task.cancelled,
      beyond: true,
    });
    const { outcomes } = await followed.piece(of);
    const [a, b] = steps.map((id) => {
      const found = outcomes.find((o) => o.step === id);
      if (!found) throw new Error('A step that was to be compared is no longer there.');
      return whole(found.geometry).mesh ?? emptyMesh();
    });
    const at = new Map(Array.from(a.vertexKey, (k, v) => [k, v]));
    let [shared, moved, most, sum] = [0, 0, 0, 0];
    b.vertexKey.forEach((key, v) => {
      const u = at.get(key);
      if (u === undefined) return;
      shared++;
      const d = Math.hypot(...[0, 1, 2].map((k) => a.positions[3 * u + k] - b.positions[3 * v + k]));
      if (d > STILL) moved++;
      most = Math.max(most, d);
      sum += d;
    });
    const drawn = draw(a, b);
    task.transfer.push(...drawn.pictures.map((x) => x.buffer as ArrayBuffer));
    return { drawn, a: numbersOf(a), b: numbersOf(b), shared, moved, most, mean: shared > 0 ? sum / shared : 0 };
  },
);
