/**
 * Every way in which one pick follows from another, by name: asked on the page where a mesh is small, in a worker where
 * it is not, the same answer either way. A new one is an entry here.
 */
import { faceNormals } from '../mesh/normals';
import { components } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { countOf, type PickKind } from '../mesh/picks';
import { edgeLoop, flatRegion, grow, shrink } from '../mesh/walks';
import { elementsBy } from '../rules';
import { alike, type Likeness } from './alike';
import { mirrored } from './mirrored';
import { pathBetween } from './path';
import { traceSeam } from './trace';
import { border, flat, invert, joined, loops, rings } from './spread';

export interface PickQuery {
  readonly name: QueryName;
  readonly kind: PickKind;
  /** What is picked, by index. */
  readonly from: Uint32Array;
  readonly values?: Readonly<Record<string, unknown>>;
}

export interface Found {
  readonly kind: PickKind;
  readonly indices: ArrayLike<number>;
  /** So many of what it began from have nothing to answer with. */
  readonly missing?: number;
}

type Answer = (
  mesh: Mesh,
  kind: PickKind,
  from: Uint32Array,
  values: Record<string, unknown>,
) => ArrayLike<number> | Found;

/** What a double click picks: an edge's loop, a face's flat region, all that is joined to a vertex. */
function wider(mesh: Mesh, kind: PickKind, from: Uint32Array): ArrayLike<number> {
  if (kind === 'edge') return edgeLoop(mesh, from[0]);
  if (kind === 'face') return flatRegion(mesh, from[0], faceNormals(mesh));
  const { of } = components(mesh);
  const out: number[] = [];
  for (let v = 0; v < mesh.vertexCount; v++) if (of[v] === of[from[0]]) out.push(v);
  return out;
}

const QUERIES = {
  all: (mesh, kind) => Uint32Array.from({ length: countOf(mesh, kind) }, (_, i) => i),
  grow,
  shrink,
  invert,
  joined,
  wider,
  border: (mesh, kind, from) => ({ kind: kind === 'face' ? 'edge' : kind, indices: border(mesh, kind, from) }),
  /** From the first to the second. */
  path: (mesh, kind, from) => pathBetween(mesh, kind, from[0], from[1]),
  /** Along what is cheapest to cut, through vertices. */
  trace: (mesh, _, from, v) => ({ kind: 'edge', indices: traceSeam(mesh, from, v.hide as number) }),
  loops: (mesh, _, from, v) => loops(mesh, from, v.nth as number),
  rings: (mesh, _, from, v) => rings(mesh, from, v.nth as number),
  flat: (mesh, _, from, v) => flat(mesh, from, v.angle as number),
  'other-side': (mesh, kind, from, v) => {
    const { found, missing } = mirrored(mesh, kind, from, v.axis as 'x');
    return { kind, indices: v.and ? [...from, ...found] : found, missing };
  },
  like: (mesh, kind, from, v) => alike(mesh, kind, from, v.by as Likeness),
  rule: (mesh, kind, _, v) =>
    elementsBy(mesh, kind, { id: v.id as string, values: v.values as object as Record<string, unknown> }),
} satisfies Record<string, Answer>;
export type QueryName = keyof typeof QUERIES;

export function answer(mesh: Mesh, { name, kind, from, values = {} }: PickQuery): Found {
  const found = (QUERIES[name] as Answer)(mesh, kind, from, values);
  return 'kind' in found ? found : { kind, indices: found };
}
