/** What the page and the worker say to each other, and what answers hold. */
import type { DisplayBuffers, DisplayPatch } from '../core/display';
import type { Look, Maps } from '../core/material';
import type { Bounds, Shape, PickKind } from '../core/mesh';
import type { Topology } from '../core/mesh/topology';
import type { Marks } from '../core/mesh/marks';
import type { Warning } from '../core/recipe';
import type { Difference } from '../document/diff';

/**
 * From the page. The document is sent once and then kept up to date by differences, always before the requests that
 * need it.
 */
export type ToWorker =
  | { sync: Difference[] }
  /** Shared with the page where the browser allows: a request whose number stands in its place is to stop. */
  | { stops: Int32Array }
  | { id: number; call: string; query: unknown };

/** From the worker. */
export type ToPage =
  | { id: number; ok: true; answer: unknown }
  | { id: number; ok: false; error: string; cancelled: boolean }
  | { id: number; progress: Progress }
  | { note: Note };

export interface Progress {
  /** 0..1 */
  share: number;
  piece?: string;
  step?: string;
  /** A layout that is better than the last, and the same as a file to be kept. */
  layout?: { uv: Float32Array; bytes: Uint8Array };
  /** A layout on its way: how far it is stretched on average, after so many rounds. */
  relaxed?: { uv: Float32Array; mean: number; round: number };
}

/** Said without being asked: a tree for picking in a large piece is ready. */
export interface Note {
  tree: TreeNote;
}
export interface TreeNote {
  piece: string;
  hash: string;
  roots: ArrayBuffer[];
  indirect: Uint32Array | Uint16Array;
}

export interface MeshArrays {
  positions: Float32Array;
  faceStart: Uint32Array;
  cornerVertex: Uint32Array;
  vertexKey: Float64Array;
  faceKey: Float64Array;
  uv?: Float32Array;
  slot?: Int32Array;
  slots: readonly string[];
  /** What is said of its edges, by their keys as they are now. */
  marked?: Marks;
  group?: Int32Array;
  groups: readonly string[];
  /** Of a large one: deriving it on the page would hold that up. */
  topology?: Topology;
}

export interface StepReport {
  step: string;
  error?: string;
  warnings: Warning[];
  figures: Record<string, number>;
  took: number;
  /** What goes on from it. */
  flow: Flow;
}

export interface Flow {
  faces: number;
  /** Vertices without faces. */
  points: number;
  curves: number;
  copies: number;
}

export interface TextureImages {
  name: string;
  /** Texels along a side of a sheet. */
  size: number;
  /** Its sheets lie side by side in one picture. */
  sheets: number;
  /** Of these pictures, in pixels. */
  width: number;
  height: number;
  /** RGBA, rows from the top. */
  pictures: Maps<Uint8Array>;
  look: Partial<Look>;
}

export interface PieceShown {
  piece: string;
  hash: string;
  buffers?: DisplayBuffers;
  /** Instead of buffers: how those of `base` change. */
  patch?: DisplayPatch & { base: string };
  bounds?: Bounds;
  texture?: TextureImages;
  /** It is in the colours of an attribute, over this range. */
  heat?: { name: string; min: number; max: number };
  reports: StepReport[];
}

/** The mesh that is being worked on: what the focused step gives. */
export interface Edited {
  piece: string;
  step: string;
  hash: string;
  /** Left out for large meshes of which no elements are picked. */
  mesh?: MeshArrays;
  /** Instead of the mesh: vertices of the one that was sent before, and where they are now (3 each). */
  moved?: { vertices: Uint32Array; positions: Float32Array };
  shape: Shape;
  bounds: Bounds;
  /** It is just what the piece shows. */
  same: boolean;
  lines: Float32Array;
  ink: Float32Array;
}

export interface Focus {
  piece: string;
  step: string | null;
}

export interface Facts {
  area: number;
  length: number;
  size: [number, number, number];
  flat: number;
}

/**
 * An element that something is tied to; the answer is where it is now, in the piece's own space, or null when it is
 * gone.
 */
export interface AskedAnchor {
  name: string;
  piece: string;
  kind: PickKind;
  key: number;
  t: number;
  spots?: string;
}
export type FoundAnchors = Record<string, [number, number, number] | null>;

export interface PartFound {
  name: string;
  set?: string;
  keys: number[];
}
