import { UV } from '../../core/mesh';
import { uvFigures, type UvFigures } from '../../core/uv';
import { defineCall } from './define';

/** Figures of the sheet of what is being worked on; null where it has no UVs. */
export const uv = defineCall(({ edited }, { sheets = 1 }: { sheets?: number }): UvFigures | null => {
  const sheet = edited?.attributes[UV];
  return edited && sheet ? uvFigures(edited, sheet.data, 1024, sheets) : null;
});
