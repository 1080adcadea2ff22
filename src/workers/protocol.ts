/** What the page and the bench worker say to each other. */
import type { DisplayBuffers } from '../core/display/buffers';
import type { Affine } from '../core/math/affine';
import type { Bounds, Shape } from '../core/mesh/measure';
import type { PickKind } from '../core/mesh/picks';
import type { Warning } from '../core/recipe/define';
import type { UvFigures } from '../core/uv/measure';
import type { Material, Piece, ProjectDocument } from '../document/types';
import type { ShipOptions } from '../document/build';

export type MeshArrays = {
  positions: Float32Array;
  faceStart: Uint32Array;
  cornerVertex: Uint32Array;
  vertexKey: Float64Array;
  faceKey: Float64Array;
  uv?: Float32Array;
  slot?: Int32Array;
  slots: readonly string[];
  group?: Int32Array;
  groups: readonly string[];
};

export interface StepReport {
  step: string;
  error?: string;
  warnings: Warning[];
  figures: Record<string, number>;
  took: number;
}

export interface TextureImages {
  name: string;
  size: number;
  color: Uint8Array;
  surface: Uint8Array;
}

export interface PieceShown {
  piece: string;
  hash: string;
  buffers?: DisplayBuffers;
  bounds?: Bounds;
  texture?: TextureImages;
  reports: StepReport[];
}

/** The mesh that is being worked on: what the focused step gives. */
export interface Edited {
  piece: string;
  step: string;
  hash: string;
  /** Left out for large meshes of which no elements are picked. */ mesh?: MeshArrays;
  shape: Shape;
  bounds: Bounds;
  /** It is just what the piece shows. */ same: boolean;
  lines: Float32Array;
  ink: Float32Array;
}

export interface Focus {
  piece: string;
  step: string | null;
}

export type Request =
  | {
      id: number;
      ask: 'show';
      pieces: Piece[];
      order: string[];
      materials: readonly Material[];
      focus: Focus | null;
      textures: boolean;
      anchors: readonly AskedAnchor[];
      /** Vertices, edges and faces are being picked: their arrays are needed on the page however many there are. */ elements: boolean;
    }
  | { id: number; ask: 'facts'; kind: PickKind; indices: Uint32Array; world: Affine }
  | { id: number; ask: 'uv' }
  | { id: number; ask: 'ship'; document: ProjectDocument; options: ShipOptions; format: string }
  | { id: number; ask: 'check'; document: ProjectDocument; options: ShipOptions }
  | { id: number; ask: 'keep'; sha: string; bytes: Uint8Array }
  | { id: number; ask: 'anchor'; piece: string; kind: 'vertex' | 'edge' | 'face'; at: [number, number, number] }
  | { id: number; ask: 'parts'; piece: string; by: 'part' | 'material' | 'set' };

export interface Facts {
  area: number;
  length: number;
  size: [number, number, number];
  flat: number;
}

/** An element that something is tied to; the answer is where it is now, in the piece's own space, or null when it is gone. */
export interface AskedAnchor {
  name: string;
  piece: string;
  kind: 'vertex' | 'edge' | 'face';
  key: number;
  t: number;
}
export type FoundAnchors = Record<string, [number, number, number] | null>;

export interface PartFound {
  name: string;
  set?: string;
  keys: number[];
}

export type Reply =
  | {
      id: number;
      ok: true;
      shown: PieceShown[];
      gone: string[];
      edited: Edited | null | undefined;
      anchors: FoundAnchors;
    }
  | { id: number; ok: true; facts: Facts }
  | { id: number; ok: true; uv: UvFigures | null }
  | { id: number; ok: true; file: Uint8Array; ending: string; warnings: string[] }
  | { id: number; ok: true; warnings: string[]; triangles: number }
  | { id: number; ok: true; key: number; t: number; at: [number, number, number] }
  | { id: number; ok: true; parts: PartFound[] }
  | { id: number; ok: true; kept: true }
  | { id: number; ok: false; error: string; cancelled: boolean };

/** Trees for picking in large pieces, sent when they are ready. */
export interface TreeNote {
  tree: { piece: string; hash: string; roots: ArrayBuffer[]; indirect: Uint32Array | Uint16Array };
}

export interface ProgressNote {
  progress: { piece: string; step: string; share: number };
}
