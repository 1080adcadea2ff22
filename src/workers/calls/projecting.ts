import { frameOn, projectOn } from '../../core/uv/edits';
import { frameAlong, type Projecting, type ProjectionFrame, type Vector } from '../../core/uv/edits/project';
import type { Mesh } from '../../core/mesh';
import { defineCall } from './define';

interface ProjectingQuery extends Omit<Projecting, 'frame'> {
  faces: readonly number[];
  /** Undefined for the one that suits the faces best; an axis for one that stands upright along that. */
  frame?: ProjectionFrame | 0 | 1 | 2;
}

export interface Projected {
  frame: ProjectionFrame;
  /** How far the faces reach from the middle of the frame, along each of its axes. */
  half: Vector;
  faces: Uint32Array;
  uv: Float32Array;
}

/** Faces of what is being worked on as a frame has them on the sheet. Nothing is kept by it. */
export const projecting = defineCall((host, { faces, frame: asked, ...how }: ProjectingQuery, task): Projected => {
  const { edited: mesh } = host;
  if (!mesh) throw new Error('There is nothing on the sheet.');
  const best = typeof asked === 'object' ? asked : frameOn(mesh, faces, how.how);
  const frame = typeof asked === 'number' ? frameAlong(asked, best.at) : best;
  const out = projectOn(mesh, faces, { ...how, frame });
  task.transfer.push(out.uv.buffer as ArrayBuffer, out.faces.buffer as ArrayBuffer);
  return { ...out, frame, half: reachOf(mesh, faces, frame) };
});

function reachOf(mesh: Mesh, faces: readonly number[], { at, right, up, toward }: ProjectionFrame): Vector {
  const out: Vector = [0, 0, 0];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const o = 3 * mesh.cornerVertex[c];
      [right, up, toward].forEach((axis, k) => {
        let along = 0;
        for (let q = 0; q < 3; q++) along += axis[q] * (mesh.positions[o + q] - at[q]);
        out[k] = Math.max(out[k], Math.abs(along));
      });
    }
  return out;
}
