import { editSheet, type EditName, type SheetEdited } from '../../core/uv/edits';
import { defineCall } from './define';

interface SheetEditQuery {
  name: EditName;
  /** Of what is being worked on. */
  faces: readonly number[];
  edges: readonly number[];
  texels: number;
  density?: number;
}

/** What lies on the sheet, after something was done to some of it. */
export const sheetEdit = defineCall(({ edited }, { name, ...picked }: SheetEditQuery, task): SheetEdited => {
  if (!edited) throw new Error('There is nothing on the sheet.');
  const out = editSheet(edited, name, picked);
  task.transfer.push(out.uv.buffer as ArrayBuffer, out.faces.buffer as ArrayBuffer);
  return out;
});
