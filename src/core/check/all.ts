/** The checks there are. */
import { teesOf } from '../edit/tees';
import { crossingFaces } from '../mesh/crossings';
import { pinchedVertices } from '../mesh/mass';
import { components, doubledFaces } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { elementsBy } from '../rules';
import { defineCheck, type CheckDef } from './define';
import { enclosedFaces, hiddenFaces } from './hidden';
import { bentFaces, denseFaces, flatFaces, flippedFaces, sizeOf, slivers } from './places';

const byRule =
  (kind: PickKind, id: string, values: Record<string, unknown> = {}) =>
  (mesh: Mesh): number[] =>
    elementsBy(mesh, kind, { id, values });

/** What lies as near as this to an edge is meant to lie on it. */
const touching = (mesh: Mesh): number => 1e-5 * sizeOf(mesh);
const CLEAN = {
  borders: false,
  flat: false,
  doubled: false,
  inner: false,
  tees: false,
  holes: 0,
  loose: false,
};

export const ALL: readonly CheckDef[] = [
  defineCheck({
    id: 'open',
    title: 'Open edges',
    help: 'A body with a hole in its skin cannot be printed, and shows its inside',
    kind: 'edge',
    wrongFor: ['print'],
    mend: { tool: 'cap', label: 'Close the holes' },
    find: byRule('edge', 'open'),
  }),
  defineCheck({
    id: 'crowded',
    title: 'Edges on three faces or more',
    help: 'There is no inside and outside where three faces meet on an edge',
    kind: 'edge',
    wrongFor: ['print', 'game', 'render'],
    find: byRule('edge', 'crowded'),
  }),
  defineCheck({
    id: 'pinched',
    title: 'Vertices where fans touch',
    help: 'Two parts of the surface hang together by one point',
    kind: 'vertex',
    wrongFor: ['print'],
    find: pinchedVertices,
  }),
  defineCheck({
    id: 'doubled',
    title: 'Doubled faces',
    help: 'Two faces in one place flicker, and are printed as nothing',
    kind: 'face',
    wrongFor: ['print', 'game', 'render'],
    mend: { tool: 'delete', label: 'Remove the second ones' },
    find: (mesh) => doubledFaces(mesh),
  }),
  defineCheck({
    id: 'loose',
    title: 'Loose vertices',
    help: 'Vertices that no face uses',
    kind: 'vertex',
    wrongFor: ['print', 'game', 'render'],
    mend: { tool: 'delete', label: 'Remove them' },
    find: (mesh) => {
      const t = topologyOf(mesh);
      const out: number[] = [];
      for (let v = 0; v < mesh.vertexCount; v++) if (t.vertexCornerStart[v] === t.vertexCornerStart[v + 1]) out.push(v);
      return out;
    },
  }),
  defineCheck({
    id: 'flat',
    title: 'Faces without area',
    help: 'All in a line or in a point: they shade wrongly and cannot be unwrapped',
    kind: 'face',
    wrongFor: ['print', 'game', 'render'],
    mend: { tool: 'clean', values: { ...CLEAN, flat: true }, label: 'Take them out' },
    find: flatFaces,
  }),
  defineCheck({
    id: 'flipped',
    title: 'Faces that look the wrong way',
    help: 'They look into the body, or opposite to those beside them',
    kind: 'face',
    wrongFor: ['print', 'game', 'render'],
    mend: { tool: 'flip', label: 'Flip them' },
    find: flippedFaces,
  }),
  defineCheck({
    id: 'tees',
    title: 'Corners on open edges',
    help: 'The surface looks closed there and is not: light comes through',
    kind: 'vertex',
    wrongFor: ['print', 'game', 'render'],
    mend: { tool: 'clean', values: { ...CLEAN, tees: true }, label: 'Take them in' },
    find: (mesh) => Array.from(new Set(teesOf(mesh, touching(mesh)).map((x) => x.vertex))).sort((a, b) => a - b),
  }),
  defineCheck({
    id: 'crossing',
    title: 'Faces that pass through others',
    help: 'The inside is not told from the outside there',
    kind: 'face',
    wrongFor: ['print'],
    slow: true,
    find: crossingFaces,
  }),
  defineCheck({
    id: 'hidden',
    title: 'Faces never seen',
    help: 'From nowhere outside is there a way to them; they cost and show nothing',
    kind: 'face',
    wrongFor: ['game', 'print'],
    slow: true,
    find: hiddenFaces,
  }),
  defineCheck({
    id: 'enclosed',
    title: 'Parts inside others',
    help: 'Loose parts wholly inside a closed one',
    kind: 'face',
    wrongFor: ['game', 'print'],
    slow: true,
    mend: { tool: 'delete', label: 'Remove them' },
    find: (mesh) => {
      const { of, count } = components(mesh);
      return enclosedFaces(mesh, of, count);
    },
  }),
  defineCheck({
    id: 'poles',
    title: 'Vertices of over six edges',
    help: 'A subdivided surface puckers there',
    kind: 'vertex',
    wrongFor: ['render'],
    find: byRule('vertex', 'valence', { least: 7 }),
  }),
  defineCheck({
    id: 'slivers',
    title: 'Long thin triangles',
    help: 'Over twenty times as long as high: they shade unevenly',
    kind: 'face',
    wrongFor: ['game', 'render'],
    find: (mesh) => slivers(mesh),
  }),
  defineCheck({
    id: 'bent',
    title: 'Faces that are not flat',
    help: 'Programs part them into triangles each in its own way',
    kind: 'face',
    wrongFor: [],
    mend: { tool: 'triangulate', label: 'Make triangles of them' },
    find: (mesh) => bentFaces(mesh),
  }),
  defineCheck({
    id: 'many-sided',
    title: 'Faces of more than four sides',
    help: 'They subdivide into stars',
    kind: 'face',
    wrongFor: ['game', 'render'],
    mend: { tool: 'triangulate', label: 'Make triangles of them' },
    find: byRule('face', 'sides', { least: 5 }),
  }),
  defineCheck({
    id: 'dense',
    title: 'Many faces where it is flat',
    help: 'Faces that are less than a hundredth of a flat place: they show nothing',
    kind: 'face',
    wrongFor: ['game'],
    find: denseFaces,
  }),
];
