/** What the page asks of the sheet of what is being worked on. */
import { writePng } from '../../core/formats';
import { UV } from '../../core/mesh';
import { layoutAsPixels, layoutAsSvg, type DrawingOptions } from '../../core/uv/drawing';
import { editSheet, type EditName, type SheetEdited } from '../../core/uv/edits';
import { facesWith, lookOfFaces, type FaceLook, type Fault, type FaultOptions } from '../../core/uv/look';
import type { Host } from '../host';
import { defineCall } from './define';

interface SheetEditQuery {
  name: EditName;
  /** Of what is being worked on. */
  faces: readonly number[];
  edges: readonly number[];
  texels: number;
  density?: number;
}

function onSheet({ edited }: Host) {
  if (!edited?.attributes[UV]) throw new Error('There is nothing on the sheet.');
  return edited;
}

/** What lies on the sheet, after something was done to some of it. */
export const sheetEdit = defineCall((host, { name, ...picked }: SheetEditQuery, task): SheetEdited => {
  const out = editSheet(onSheet(host), name, picked);
  task.transfer.push(out.uv.buffer as ArrayBuffer, out.faces.buffer as ArrayBuffer);
  return out;
});

/** How far each face is stretched, and how dense it is. */
export const sheetLook = defineCall((host, _: object, task): FaceLook => {
  const out = lookOfFaces(onSheet(host));
  task.transfer.push(out.stretch.buffer as ArrayBuffer, out.density.buffer as ArrayBuffer);
  return out;
});

/** Faces with a fault. */
export const sheetFaults = defineCall((host, { fault, ...o }: FaultOptions & { fault: Fault }): number[] =>
  facesWith(onSheet(host), fault, o),
);

/** The layout as a drawing, as a file. */
export const sheetDrawing = defineCall((host, { kind, ...o }: DrawingOptions & { kind: 'svg' | 'png' }): Uint8Array =>
  kind === 'svg' ? new TextEncoder().encode(layoutAsSvg(onSheet(host), o)) : writePng(layoutAsPixels(onSheet(host), o)),
);
