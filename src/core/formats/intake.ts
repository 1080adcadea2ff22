/**
 * What is said of a file that comes in: what it holds, how large it is, what is wrong with it, and guesses of what it
 * does not say.
 */
import { boundsOfGeometry } from '../geometry';
import { joinBounds, type Bounds } from '../mesh/bounds';
import { shapeOf } from '../mesh/measure';
import { emptyMesh } from '../mesh/mesh';
import { flatten, type Scene } from './scene';

export interface PieceIntake {
  name: string;
  faces: number;
  triangles: number;
  vertices: number;
  openEdges: number;
  nonManifoldEdges: number;
  doubledFaces: number;
  curves: number;
}

export interface Intake {
  file: string;
  pieces: PieceIntake[];
  /** In the file's own units. */
  size: [number, number, number];
  /** Metres for one of the file's units, and whether it said so itself. */
  unit: number;
  unitKnown: boolean;
  up: 'y' | 'z';
  upKnown: boolean;
  materials: number;
  images: number;
  missing: string[];
  warnings: string[];
}

export function intakeOf(scene: Scene, file: string): Intake {
  const flat = flatten(scene);
  let bounds: Bounds | null = null;
  for (const p of flat.pieces) bounds = joinBounds(bounds, boundsOfGeometry(p));
  const { min: lo, max: hi } = bounds ?? { min: [0, 0, 0], max: [0, 0, 0] };
  const size = [0, 1, 2].map((k) => hi[k] - lo[k]) as [number, number, number];
  const kind = /\.(\w+)$/.exec(file)?.[1].toLowerCase() ?? '';
  return {
    file,
    size,
    materials: scene.materials.length,
    images: scene.images.length,
    missing: [...new Set(scene.missing ?? [])],
    warnings: scene.warnings,
    unit: scene.scale?.unit ?? guessUnit(Math.max(...size), kind),
    unitKnown: scene.scale?.unit !== undefined,
    up: scene.scale?.up ?? guessUp(lo, hi, kind),
    upKnown: scene.scale?.up !== undefined,
    pieces: scene.pieces.flatMap((p) => {
      if (!p.mesh && !p.curves) return [];
      const s = shapeOf(p.mesh ?? emptyMesh());
      return [
        {
          name: p.name,
          faces: s.faces,
          triangles: s.triangles,
          vertices: s.vertices,
          openEdges: s.openEdges,
          nonManifoldEdges: s.nonManifoldEdges,
          doubledFaces: s.doubledFaces,
          curves: p.curves?.closed.length ?? 0,
        },
      ];
    }),
  };
}

/**
 * A guess at the unit of a file that does not say. What is made for printing is nearly always in millimetres; other
 * models in metres when they are of a size one meets in metres, else in centimetres or millimetres.
 */
export function guessUnit(longest: number, kind: string): number {
  if (!(longest > 0)) return 1;
  if (kind === 'stl') return longest < 0.5 ? 1 : 0.001;
  if (longest <= 30) return 1;
  return longest <= 300 ? 0.01 : 0.001;
}

/**
 * A guess at the up axis: what stands on the plane z = 0 and not on y = 0 has z up; with no such sign, as its kind
 * mostly has it.
 */
export function guessUp(lo: readonly number[], hi: readonly number[], kind: string): 'y' | 'z' {
  const near = (k: number) => Math.abs(lo[k]) < 1e-3 * Math.max(hi[k] - lo[k], 1e-30);
  if (near(2) !== near(1)) return near(2) ? 'z' : 'y';
  return kind === 'stl' ? 'z' : 'y';
}
