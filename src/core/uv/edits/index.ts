/**
 * Everything that can be done to a layout by hand at once, by name: what it needs of what is picked, and what it does.
 * A new one is one entry here and its words in the interface.
 */
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { toAxes, toCircle, toRectangle } from './borders';
import { align, evenDensity, flip, level, scaleBy, spread, stackAlike, toTexels, turn } from './place';
import { frameFor, project, projectFrom, type Projecting, type Projection, type ProjectionFrame } from './project';
import { relax } from './relax';
import { sew, straighten, toldOfSewn } from './shape';
import { SheetEdit } from './sheet';

export interface EditInput {
  /** Faces that are picked. */
  faces: readonly number[];
  /** Islands that what is picked lies in. */
  islands: readonly number[];
  /** Edges that are picked. */
  edges: readonly number[];
  /** Along the side of the sheet. */
  texels: number;
  /** Texels per metre, where it is asked for. */
  density?: number;
}

interface EditDef {
  /** So many islands at least, or edges. */
  needs: 1 | 2 | 3 | 'edges';
  /** Answers what is to be said of it, where there is anything. */
  run(s: SheetEdit, o: EditInput): string | void;
}

const islands = (needs: 1 | 2 | 3, run: EditDef['run']): EditDef => ({ needs, run });
const edges = (run: EditDef['run']): EditDef => ({ needs: 'edges', run });

const defs = {
  'turn left': islands(1, (s, o) => turn(s, o.islands, Math.PI / 2)),
  'turn right': islands(1, (s, o) => turn(s, o.islands, -Math.PI / 2)),
  'flip across': islands(1, (s, o) => flip(s, o.islands, 'across')),
  'flip down': islands(1, (s, o) => flip(s, o.islands, 'down')),
  level: edges((s, o) => level(s, o.edges)),
  left: islands(2, (s, o) => align(s, o.islands, 'left')),
  right: islands(2, (s, o) => align(s, o.islands, 'right')),
  top: islands(2, (s, o) => align(s, o.islands, 'top')),
  bottom: islands(2, (s, o) => align(s, o.islands, 'bottom')),
  'middle across': islands(2, (s, o) => align(s, o.islands, 'middle across')),
  'middle down': islands(2, (s, o) => align(s, o.islands, 'middle down')),
  'spread across': islands(3, (s, o) => spread(s, o.islands, 'across')),
  'spread down': islands(3, (s, o) => spread(s, o.islands, 'down')),
  'even density': islands(2, (s, o) => evenDensity(s, o.islands)),
  density: islands(1, (s, o) => evenDensity(s, o.islands, (o.density ?? 0) / o.texels)),
  double: islands(1, (s, o) => scaleBy(s, o.islands, 2)),
  halve: islands(1, (s, o) => scaleBy(s, o.islands, 0.5)),
  texels: islands(1, (s, o) => toTexels(s, o.islands, o.texels)),
  stack: islands(2, (s, o) => {
    if (stackAlike(s, o.islands) === 0) throw new Error('None of these islands has the shape of another.');
  }),
  'relax angles': islands(1, (s, o) => relax(s, o.islands, 'angles', false)),
  'relax lengths': islands(1, (s, o) => relax(s, o.islands, 'lengths', false)),
  'relax within': islands(1, (s, o) => relax(s, o.islands, 'angles', true)),
  straighten: islands(1, (s, o) => {
    for (const i of o.islands) straighten(s, i);
  }),
  'border on a circle': islands(1, (s, o) => o.islands.forEach((i) => toCircle(s, i))),
  'border on a rectangle': islands(1, (s, o) => o.islands.forEach((i) => toRectangle(s, i))),
  'border level': islands(1, (s, o) => o.islands.forEach((i) => toAxes(s, i))),
  'from one side': islands(1, (s, o) => project(s, o.faces, 'plane')),
  'from six sides': islands(1, (s, o) => project(s, o.faces, 'box')),
  'round an axis': islands(1, (s, o) => project(s, o.faces, 'cylinder')),
  'round a middle': islands(1, (s, o) => project(s, o.faces, 'sphere')),
  sew: edges((s, o) => {
    if (sew(s, o.edges) === 0) throw new Error('None of these edges is of two faces that can be sewn.');
    return toldOfSewn(s, facesAt(s, o.edges));
  }),
} satisfies Record<string, EditDef>;

export type EditName = keyof typeof defs;
export const editNames = Object.keys(defs) as EditName[];
export const needsOf = (name: EditName): EditDef['needs'] => defs[name].needs;

export interface SheetEdited {
  /** Of all islands that were touched. */
  faces: Uint32Array;
  /** The whole layout as it is then. */
  uv: Float32Array;
  /** What is to be said of it. */
  told?: string;
}

/** Faces on either side of some edges. */
function facesAt({ mesh }: SheetEdit, edges: readonly number[]): number[] {
  const t = topologyOf(mesh);
  return edges.flatMap((e) =>
    Array.from(t.edgeCorner.subarray(t.edgeCornerStart[e], t.edgeCornerStart[e + 1]), (c) => t.cornerFace[c]),
  );
}

/** Faces that a frame is made for, and the frame that suits them. Throws one sentence where there is no layout. */
export function frameOn(mesh: Mesh, faces: readonly number[], how: Projection): ProjectionFrame {
  return frameFor(new SheetEdit(mesh), faces, how);
}

/** Faces laid out as a frame has them. */
export function projectOn(mesh: Mesh, faces: readonly number[], how: Projecting): SheetEdited {
  const s = new SheetEdit(mesh);
  projectFrom(s, faces, how);
  // Of an island of which some is laid out otherwise, the rest stays.
  return { faces: Uint32Array.from(faces).sort(), uv: s.uv };
}

/** Does one to what lies on the sheet. `faces`: what is picked. Throws one sentence where it cannot. */
export function editSheet(
  mesh: Mesh,
  name: EditName,
  picked: { faces: readonly number[]; edges: readonly number[]; texels: number; density?: number },
): SheetEdited {
  const s = new SheetEdit(mesh);
  const def: EditDef = defs[name];
  const touched = s.islandsWith(def.needs === 'edges' ? [...picked.faces, ...facesAt(s, picked.edges)] : picked.faces);
  if (def.needs === 'edges' ? picked.edges.length === 0 : touched.length < def.needs)
    throw new Error(
      def.needs === 'edges'
        ? 'Pick edges on the sheet first.'
        : `Pick ${['', 'an island', 'two islands', 'three islands'][def.needs]} or more first.`,
    );
  const told = def.run(s, { ...picked, islands: touched });
  const faces = Uint32Array.from(touched.flatMap((i) => [...s.facesOf(i)])).sort();
  return { faces, uv: s.uv, ...(told ? { told } : {}) };
}
