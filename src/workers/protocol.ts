/** What the page and the bench worker say to each other. */
import type { DisplayBuffers } from '../core/display/buffers';
import type { Bounds, Shape } from '../core/mesh/measure';
import type { PickKind } from '../core/mesh/picks';
import type { Warning } from '../core/recipe/define';
import type { UvFigures } from '../core/uv/measure';
import type { Material, Piece, ProjectDocument } from '../document/types';
import type { ShipOptions } from '../document/build';

export type MeshArrays = { positions: Float32Array; faceStart: Uint32Array; cornerVertex: Uint32Array; vertexKey: Float64Array; faceKey: Float64Array; uv?: Float32Array; slot?: Int32Array; slots: readonly string[] };

export interface StepReport { step: string; error?: string; warnings: Warning[]; figures: Record<string, number>; took: number }

export interface TextureImages { name: string; size: number; color: Uint8Array; surface: Uint8Array }

export interface PieceShown {
  piece: string;
  hash: string;
  buffers?: DisplayBuffers;
  bounds?: Bounds;
  texture?: TextureImages;
  reports: StepReport[];
}

/** The mesh that is being worked on: what the focused step gives. */
export interface Edited { piece: string; step: string; hash: string; mesh: MeshArrays; shape: Shape; bounds: Bounds; /** It is just what the piece shows. */ same: boolean; lines: Float32Array; ink: Float32Array }

export interface Focus { piece: string; step: string | null }

export type Request =
  | { id: number; ask: 'show'; pieces: Piece[]; order: string[]; materials: readonly Material[]; focus: Focus | null; textures: boolean }
  | { id: number; ask: 'facts'; kind: PickKind; indices: Uint32Array }
  | { id: number; ask: 'uv' }
  | { id: number; ask: 'ship'; document: ProjectDocument; options: ShipOptions; format: 'glb' | 'obj' }
  | { id: number; ask: 'check'; document: ProjectDocument; options: ShipOptions }
  | { id: number; ask: 'import'; name: string; bytes: Uint8Array; beside: [string, Uint8Array][] };

export interface Facts { area: number; length: number; size: [number, number, number]; flat: number }

export interface ImportedPiece { name: string; faces: number; item: number; slots: string[] }
export interface ImportReport { pieces: ImportedPiece[]; materials: { id: string; name: string; color: string; roughness: number; metalness: number }[]; warnings: string[] }

export type Reply =
  | { id: number; ok: true; shown: PieceShown[]; gone: string[]; edited: Edited | null | undefined }
  | { id: number; ok: true; facts: Facts }
  | { id: number; ok: true; uv: UvFigures | null }
  | { id: number; ok: true; file: Uint8Array; warnings: string[] }
  | { id: number; ok: true; warnings: string[]; triangles: number }
  | { id: number; ok: true; imported: ImportReport }
  | { id: number; ok: false; error: string; cancelled: boolean };

export interface ProgressNote { progress: { piece: string; step: string; share: number } }
