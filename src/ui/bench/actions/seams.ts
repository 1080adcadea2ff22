/** Seams: marked, traced, suggested. */
import { UV } from '../../../core/mesh';
import { edgeKeys } from '../../../core/mesh/picks';
import { convert } from '../../../core/mesh/walks';
import { topologyOf } from '../../../core/mesh/topology';
import type { PickQuery } from '../../../core/pick';
import type { Mesh } from '../../../core/mesh';
import type { HandPlaces } from '../../../core/uv/follow/placed';
import { islandsOf } from '../../../core/uv/measure';
import * as changes from '../../../document/changes';
import { WorkCancelled } from '../../../workers/link';
import type { SuggestedSeam } from '../../../workers/calls/seams';
import { session } from '../session';
import { bench, layingOut, say, type Suggested } from '../store';
import { indicesNow } from './picked';
import { askPick } from './query';
import { unwrapStep } from './sheetstep';

const MARKED: Readonly<Record<changes.Mark, string>> = {
  cut: 'cut seams',
  hold: 'hold edges together',
  'let be': 'let edges be',
};

export function markSeams(mark: changes.Mark): void {
  const { mesh, pick } = bench.get();
  const indices = mesh ? convert(mesh, pick.kind, indicesNow(), 'edge') : [];
  if (!mesh || indices.length === 0) {
    say('Pick edges to mark first.');
    return;
  }
  onBothSides(mesh, indices, (keys) => {
    const at = unwrapStep();
    if (!at) return;
    const beside = facesBeside(mesh, keys);
    session.change(MARKED[mark], (d) => changes.markSeams(d, at.piece, at.step, keys, mark, beside));
    sayOfMarks(beside);
  });
}

/** The faces, by key, of all islands that edges are of; none where nothing of the layout is kept. */
function facesBeside(mesh: Mesh, edges: readonly number[]): number[] {
  const uv = mesh.attributes[UV]?.data;
  const { layout, placed } = layingOut(bench.get())?.values ?? {};
  if (!uv || (!layout && !(placed as HandPlaces | undefined)?.face.length)) return [];
  const { ofFace } = islandsOf(mesh, uv as Float32Array);
  const t = topologyOf(mesh);
  const wanted = new Set(edges);
  const chosen = new Set<number>();
  edgeKeys(mesh).forEach((key, e) => {
    if (!wanted.has(key)) return;
    for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++)
      chosen.add(ofFace[t.cornerFace[t.edgeCorner[k]]]);
  });
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) if (chosen.has(ofFace[f])) out.push(mesh.faceKey[f]);
  return out;
}

/** What marks come to where places are kept: told, as nothing else shows it. */
function sayOfMarks(beside: readonly number[]): void {
  const step = layingOut(bench.get());
  if (step?.values.layout) say('The layout is kept, but for the islands along the seam.');
  else {
    const placed = new Set((step?.values.placed as HandPlaces | undefined)?.face);
    if (beside.length > 0 && beside.every((key) => placed.has(key)))
      say('What lies along the seam was placed by hand and stays so: give it back, and the seam counts.');
  }
}

/** The keys of edges, and of those across from them where both sides are worked on. */
function onBothSides(mesh: Mesh, edges: ArrayLike<number>, then: (keys: number[]) => void): void {
  const { bothSides } = bench.get();
  const all = edgeKeys(mesh);
  if (!bothSides) {
    then(Array.from(edges, (e) => all[e]));
    return;
  }
  const query: PickQuery = {
    ...({ name: 'other-side', kind: 'edge' } as const),
    from: Uint32Array.from(edges),
    values: { axis: bothSides, and: true },
  };
  askPick(query, ({ indices, missing }) => {
    then(Array.from(indices, (e) => all[e]));
    if (missing) say(`${missing} of ${edges.length} have nothing on the other side.`);
  });
}

let searching: AbortController | null = null;

/** Looks for seams that would be worth their length, and for those that are not needed. */
export async function suggestSeams(bound?: number): Promise<void> {
  const at = unwrapStep();
  const { document } = bench.get();
  if (!at || !document || !session.crew) return;
  const step = document.pieces.find((p) => p.id === at.piece)?.recipe.find((x) => x.id === at.step);
  const most = bound ?? (Number(step?.values.stretch ?? 0) || 1.3);
  searching?.abort();
  const own = new AbortController();
  searching = own;
  const before = bench.get().suggested;
  // What was found before is seen until there is something else, but not taken.
  const list = before?.step === at.step ? before.list : [];
  bench.set({ suggested: { ...at, bound: most, list, share: 0 } });
  const still = () => searching === own && bench.get().suggested !== null;
  const progress = ({ share = 0 }: { share?: number }) => {
    if (still()) bench.set((s) => ({ suggested: s.suggested && { ...s.suggested, share } }));
  };
  try {
    const list = await session.crew.long(
      bench.get().document!,
      'seams',
      { ...at, bound: most },
      { signal: own.signal, progress },
    );
    if (still()) lookAtSeams({ ...at, bound: most, list, share: null });
  } catch (e) {
    if (!still()) return;
    endSuggesting();
    if (!(e instanceof WorkCancelled)) say((e as Error).message);
  }
}

/** Shows suggestions, one of them looked at. */
function lookAtSeams(suggested: Suggested, hot: number | null = null): void {
  const { list } = suggested;
  const cuts = list.filter((x) => x.kind === 'cut').map((x) => x.keys);
  bench.set({ suggested, dotted: { lists: cuts, hot: hot === null ? null : (list[hot]?.keys ?? null) } });
}

export function lookAtSeam(hot: number | null): void {
  const { suggested } = bench.get();
  if (suggested) lookAtSeams(suggested, hot);
}

export function endSuggesting(): void {
  searching?.abort();
  searching = null;
  bench.set({ suggested: null, dotted: null });
}

/** Takes suggestions: seams are cut, or held together where one is to be closed. */
export function takeSeams(taken: readonly SuggestedSeam[]): void {
  const { suggested } = bench.get();
  if (!suggested || taken.length === 0) return;
  const { piece, step } = suggested;
  const { mesh } = bench.get();
  const beside = taken.map(({ keys }) => (mesh ? facesBeside(mesh, keys) : []));
  session.change(taken.length === 1 ? 'take a seam as suggested' : 'take seams as suggested', (d) => {
    taken.forEach(({ kind, keys }, i) => {
      changes.markSeams(d, piece, step, keys, kind === 'cut' ? 'cut' : 'hold', beside[i]);
    });
  });
  sayOfMarks(beside.flat());
}

/** Cuts along what was traced, and across from it where both sides are worked on. */
export function cutTraced(edges: ArrayLike<number>): void {
  const { mesh } = bench.get();
  if (!mesh) return;
  onBothSides(mesh, edges, (keys) => {
    const at = unwrapStep();
    if (!at) return;
    const beside = facesBeside(mesh, keys);
    session.change('trace a seam', (d) => changes.markSeams(d, at.piece, at.step, keys, 'cut', beside));
    sayOfMarks(beside);
  });
}
