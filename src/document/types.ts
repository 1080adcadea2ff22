/** The project document: everything that is kept of a job, as plain JSON. */
import type { Blueprint, Station } from '../core/blueprint';
import type { Place } from '../core/math';
import type { ElementPick } from '../core/mesh';
import type { Material, Step, LengthUnit } from '../core/recipe';

export type { Blueprint, LengthUnit, Material, Place, Station, Step };

/** 2: pieces have a place in their parent, pictures and settings came in. */
export const FORMAT = 4;

export type Purpose = 'render' | 'game' | 'print';

export interface Piece {
  id: string;
  name: string;
  kind: 'mesh' | 'group' | 'blueprint';
  parent: string | null;
  /** Another piece whose recipe this one follows: a linked copy. Its own recipe is empty. */
  link: string | null;
  recipe: Step[];
  place: Place;
  visible: boolean;
  /** Seen, but not picked in the view. */
  locked: boolean;
  /** Drawn as lines over the others. */
  ghost: boolean;
  /** Steps after this one are not followed; null for all. */
  upTo: string | null;
  /** Faces that meet at less than this are shaded smoothly. Radians. */
  smooth: number;
  blueprint?: Blueprint;
  /** Picks that were kept, by name. */
  sets?: PieceSet[];
  /** Named values of its own, for its formulas and those of what it holds; what places it as a kit may turn them. */
  dials?: Dial[];
  /** What it is for, as whoever places it as a kit reads it. */
  about?: string;
  /** As it was kept last: of which kit, wherever copies of it are, and which edition of that. */
  edition?: Edition;
  /** On the map of its recipe. */
  notes?: MapNote[];
}

/** A note that lies free on the map of a recipe. */
export interface MapNote {
  id: string;
  text: string;
  /** The step it lies beside; where that is gone, the first. */
  beside: string;
  /** From the upper left of that step's slip, pixels of the map. */
  x: number;
  y: number;
}

export interface Edition {
  kit: string;
  /** From 1 on. */
  number: number;
}

export interface PieceSet {
  id: string;
  name: string;
  pick: ElementPick;
}

/** A picture of the project: shown by blueprints and materials, or a height picture kept for later. */
export interface ProjectImage {
  id: string;
  name: string;
  blob: string;
  mime: string;
  width: number;
  height: number;
  /** Per sample: 8, 16 or 32. */
  bits: number;
  use: 'picture' | 'height';
}

export interface Settings {
  /** Digits after the point. */
  precision: number;
  /** Triangles the whole may have; 0 for any number. */
  triangles: number;
  /** What the printer's bed holds, metres: wide, deep, high. */
  bed: [number, number, number];
  /** Up axis of exports that may choose one. */
  up: 'y' | 'z';
  /** Metres. */
  grid: number;
  ground: boolean;
  background: 'dawn' | 'plain' | 'dusk';
}

/** A point that follows the model: an element of a piece by its key, or a place in a piece's own space. */
export interface Anchor {
  piece: string | null;
  kind: 'vertex' | 'edge' | 'face' | 'pivot' | 'free';
  key: number;
  /** Along an edge. */
  t: number;
  /** Where it was when it was set, in the piece's own space. */
  at: [number, number, number];
  /** Where that is on the surface (`anchorSpots`): it is found by that when the key is gone. */
  spots?: string;
}

export interface Tape {
  id: string;
  kind: 'length' | 'angle' | 'diameter';
  ends: Anchor[];
}

export interface ProjectDocument {
  format: typeof FORMAT;
  name: string;
  purpose: Purpose;
  units: LengthUnit;
  pieces: Piece[];
  materials: Material[];
  images: ProjectImage[];
  tapes: Tape[];
  settings: Settings;
  /** Named values that formulas go by. */
  dials?: Dial[];
}

/** What a project has by ids, and dials offer to choose from. */
export type Offered = 'piece' | 'material' | 'picture';

export interface Dial {
  id: string;
  /** As formulas name it. */
  name: string;
  kind: 'length' | 'angle' | 'number' | 'count' | 'toggle' | 'choice' | 'colour' | 'ramp' | Offered;
  /** Metres, radians, or as it is; 0 or 1 of a switch, which of the options, a colour as 0xRRGGBB. */
  value: number;
  /** Words to choose from, or the ids of what the project has of the kind. */
  options?: string[];
  /** Of a ramp: places and values. */
  points?: [number, number][];
  /** A ramp without corners. */
  smooth?: boolean;
  /** Shown as a slider over its range. */
  slider?: boolean;
  /** What it is turned for, again whenever something changes: a fact of a piece, as in facts.ts. */
  rule?: { piece: string; fact: string; wanted: number; density?: number };
  min?: number;
  max?: number;
  note?: string;
}

/** How a project leaves and enters the shelf: the document and the files behind it, as one JSON. */
export interface ProjectExport {
  glypta: 1 | 2 | 3 | typeof FORMAT;
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

/** A project as the shelf lists it. */
export interface ShelfEntry {
  id: string;
  name: string;
  purpose: string;
  units: string;
  revision: number;
  changedAt: string;
  binnedAt: string | null;
}
