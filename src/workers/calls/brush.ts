import { Stroke, type Brush, type Dab } from '../../core/uv/edits/brush';
import { defineCall } from './define';

interface BrushQuery {
  /** One stroke, from the pointer's going down to its coming up. */
  stroke: number;
  brush: Brush;
  /** A face of the island that it goes over. */
  face: number;
  dabs: readonly Dab[];
}

interface Brushed {
  /** Of the island. */
  faces: Uint32Array;
  /** Corners that are elsewhere than before the stroke, and where: 2 each. */
  corners: Uint32Array;
  uv: Float32Array;
}

/** A stroke over an island of what is being worked on, as it goes on. */
export const brush = defineCall((host, query: BrushQuery, task): Brushed => {
  const { edited: mesh } = host;
  if (!mesh) throw new Error('There is nothing on the sheet.');
  if (host.stroke?.id !== query.stroke || host.stroke.mesh !== mesh)
    host.stroke = { id: query.stroke, mesh, stroke: new Stroke(mesh, query.face) };
  const { stroke } = host.stroke;
  for (const dab of query.dabs) stroke.dab(query.brush, dab);
  const corners = stroke.moved;
  const uv = new Float32Array(2 * corners.length);
  corners.forEach((c, i) => uv.set(stroke.uv.subarray(2 * c, 2 * c + 2), 2 * i));
  task.transfer.push(corners.buffer as ArrayBuffer, uv.buffer as ArrayBuffer);
  return { faces: stroke.faces, corners, uv };
});
