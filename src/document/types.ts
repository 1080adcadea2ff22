/** The project document: everything that is kept of a job, as plain JSON. */
import type { Material } from '../core/recipe/define';
import type { Step } from '../core/recipe/evaluate';
import type { LengthUnit } from '../core/recipe/quantity';

export type { Material, Step, LengthUnit };

export const FORMAT = 1;

export type Purpose = 'render' | 'game' | 'print';

export interface Piece {
  id: string;
  name: string;
  kind: 'mesh' | 'group';
  parent: string | null;
  recipe: Step[];
  visible: boolean;
  locked: boolean;
  /** Steps after this one are not followed; null for all. */
  upTo: string | null;
  /** Faces that meet at less than this are shaded smoothly. Radians. */
  smooth: number;
}

export interface ProjectDocument {
  format: typeof FORMAT;
  name: string;
  purpose: Purpose;
  units: LengthUnit;
  pieces: Piece[];
  materials: Material[];
}

/** How a project leaves and enters the shelf: the document and the files behind it, as one JSON. */
export interface ProjectExport {
  glypta: typeof FORMAT;
  document: ProjectDocument;
  /** Base64 by SHA-256. */
  blobs: Record<string, string>;
}

/** One entry of a JSON patch as immer makes them. */
export interface Patch {
  op: 'add' | 'remove' | 'replace';
  path: (string | number)[];
  value?: unknown;
}
