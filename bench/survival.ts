/**
 * Survival: picks through random changes upstream. Recipes of all bodies, moves by hand, mirror and subdivision are
 * made at random; elements are picked after the moves, after the mirror and after the subdivision; then one thing
 * upstream changes, and each pick is looked for.
 *
 * The judge is geometry alone, which the following of picks knows nothing of. Right: what is found lies where the
 * picked element lay, within half a cell, looks the same way within 30°, and covers it (faces: between half and twice
 * its area); or nothing is found and nothing is there. Lost: nothing is found although something is there. Near: within
 * a cell and a half. Elsewhere: any other find.
 */
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { faceNormals, type Mesh, type PickKind, pickOf, resolve, topologyOf, triangulate } from '../src/core/mesh';
import { Memory } from '../src/core/recipe/memory';
import { followRecipe, stepDef } from '../src/core/steps';
import { defaultsOf, type Move, type Step } from '../src/core/recipe/values';
import { toolDef } from '../src/core/tools';
import { dice } from '../src/core/testing/mutants';
import type { Benchmark, Result } from './measure';

const RECIPES = Number(process.env.GLYPTA_RECIPES ?? 160);
const PICKS_EACH = 12;
const KINDS: readonly PickKind[] = ['vertex', 'edge', 'face'];

type Roll = (most: number) => number;

const step = (id: string, kind: string, values: Record<string, unknown>): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});

async function follow(steps: readonly Step[], memory: Memory): Promise<Map<string, Mesh>> {
  const out = await followRecipe(steps, { memory });
  const failed = out.find((o) => o.error);
  if (failed) throw new Error(`${failed.step}: ${failed.error}`);
  return new Map(out.map((o) => [o.step, o.mesh]));
}

function start(roll: Roll): Step {
  const cuts = () => 2 + roll(7);
  if (roll(3) === 0) {
    const made = roll(2) ? 'cube' : 'rings';
    return step('start', 'sphere', { diameter: 2, made, cuts: 2 + roll(5) });
  }
  if (roll(2) === 0) {
    const cap = ['polygon', 'fan', 'open'][roll(3)];
    return step('start', 'cylinder', {
      size: 2,
      height: 2,
      sides: 6 + 2 * roll(14),
      rows: cuts(),
      cap,
      onGround: false,
    });
  }
  return step('start', 'box', {
    width: 2,
    height: 2,
    depth: 2,
    cutX: cuts(),
    cutY: cuts(),
    cutZ: cuts(),
    onGround: false,
  });
}

/** A move on a few faces, edges or vertices of a mesh. */
function moveOn(mesh: Mesh, id: string, roll: Roll): Move {
  const make = (tool: string, kind: PickKind, indices: number[], values: Record<string, unknown>): Move => ({
    id,
    tool,
    pick: pickOf(mesh, kind, indices),
    values: { ...defaultsOf(toolDef(tool)!.values), ...values } as Move['values'],
  });
  const f = roll(mesh.faceCount);
  const t = topologyOf(mesh);
  const beside = [f];
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && beside.length < 1 + roll(3); c++) {
    const e = t.cornerEdge[c];
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) {
      const g = t.cornerFace[t.edgeCorner[i]];
      if (!beside.includes(g)) beside.push(g);
    }
  }
  switch (roll(6)) {
    case 0:
      return make('extrude', 'face', beside, { by: 0.1 + roll(10) / 50 });
    case 1:
      return make('inset', 'face', [f], {});
    case 2:
      return make('loop', 'edge', [roll(t.edgeCount)], { count: 1 + roll(2), slide: (roll(3) - 1) / 4 });
    case 3:
      return make('move', 'vertex', [roll(mesh.vertexCount)], { x: 0.05, y: 0.03 });
    case 4:
      return make('move', 'face', beside, { z: 0.06 });
    default:
      return make('extrude', 'face', [f], { by: 0.1, inset: 0.02 });
  }
}

export interface Made {
  steps: Step[];
  moves: Move[];
}

export async function recipe(roll: Roll, memory: Memory): Promise<Made> {
  const first = start(roll);
  const moves: Move[] = [];
  const upTo = async () => (await follow([first, step('hand', 'shape', { moves: [...moves] })], memory)).get('hand')!;
  for (let i = 1 + roll(4); i > 0; i--) moves.push(moveOn(await upTo(), `m${i}`, roll));
  const steps = [first, step('hand', 'shape', { moves })];
  if (roll(2)) steps.push(step('mirror', 'mirror', { axis: ['x', 'z'][roll(2)] }));
  steps.push(step('fine', 'subdivide', { levels: 1 + roll(2) }));
  return { steps, moves };
}

export const EDITS = [
  'counts of a generator',
  'number of loop cuts',
  'level of subdivision',
  'inserting a step',
  'sizes',
  'deleting a move',
  'inserting a move',
  'reordering moves',
] as const;
export type Edit = (typeof EDITS)[number];

const withValues = (s: Step, values: Record<string, unknown>): Step => ({ ...s, values: { ...s.values, ...values } });

/** The recipe with one thing changed; undefined where it has nothing of the kind. */
export async function edited(
  { steps, moves }: Made,
  edit: Edit,
  roll: Roll,
  memory: Memory,
): Promise<Step[] | undefined> {
  const [first, hand, ...rest] = steps;
  const other = (n: number, least: number) => {
    const m = [2 * n, Math.max(least, Math.round(n / 2)), n + 1, n - 1, n + 2][roll(5)];
    return Math.max(least, m === n ? n + 1 : m);
  };
  const withMoves = (list: Move[]) => [first, withValues(hand, { moves: list }), ...rest];
  if (edit === 'counts of a generator') {
    const names = ['cutX', 'cutY', 'cutZ', 'sides', 'rows', 'cuts'].filter((k) => typeof first.values[k] === 'number');
    const own = names.filter((k) => k in first.values);
    const name = own[roll(own.length)];
    return [
      withValues(first, { [name]: other(first.values[name] as number, name === 'sides' ? 4 : 1) }),
      hand,
      ...rest,
    ];
  }
  if (edit === 'number of loop cuts') {
    const at = moves.findIndex((m) => m.tool === 'loop');
    if (at < 0) return undefined;
    const count = other((moves[at].values as { count: number }).count, 1);
    const list = [...moves];
    list[at] = { ...moves[at], values: { ...moves[at].values, count } };
    return withMoves(list);
  }
  if (edit === 'level of subdivision')
    return steps.map((s) => (s.id === 'fine' ? withValues(s, { levels: [2, 1, 3][roll(3)] }) : s));
  if (edit === 'inserting a step') {
    const kind = ['weld', 'mirror', 'subdivide'][roll(3)];
    const at = 2 + roll(rest.length + 1);
    const values = kind === 'subdivide' ? { levels: 1 } : {};
    return [
      ...steps.slice(0, at),
      step('put in', kind, kind === 'mirror' ? { axis: 'y' } : values),
      ...steps.slice(at),
    ];
  }
  if (edit === 'sizes') {
    const names = ['width', 'height', 'depth', 'size', 'diameter'].filter((k) => typeof first.values[k] === 'number');
    const name = names[roll(names.length)];
    return [withValues(first, { [name]: 2 + (1 + roll(4)) / 4 }), hand, ...rest];
  }
  if (edit === 'deleting a move') return withMoves(moves.filter((_, i) => i !== roll(moves.length)));
  if (edit === 'inserting a move') {
    const at = roll(moves.length + 1);
    const before = (await follow([first, withValues(hand, { moves: moves.slice(0, at) })], memory)).get('hand')!;
    return withMoves([...moves.slice(0, at), moveOn(before, 'put in', roll), ...moves.slice(at)]);
  }
  if (moves.length < 2) return undefined;
  const at = roll(moves.length - 1);
  const list = [...moves];
  [list[at], list[at + 1]] = [list[at + 1], list[at]];
  return withMoves(list);
}

type P = [number, number, number];
export interface Seen {
  at: P;
  normal: P;
  /** Half the length of an edge there. */
  half: number;
  area: number;
}

/** What geometry says of all elements of a kind. */
export function look(mesh: Mesh, kind: PickKind): Seen[] {
  const p = mesh.positions;
  const t = topologyOf(mesh);
  const n = faceNormals(mesh);
  const at = (v: number): P => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const mean = (list: P[]): P => [0, 1, 2].map((k) => list.reduce((s, x) => s + x[k], 0) / list.length) as P;
  const unit = (x: P): P => {
    const l = Math.hypot(...x) || 1;
    return x.map((q) => q / l) as P;
  };
  const normalOf = (faces: number[]) => unit(mean(faces.map((f) => [n[3 * f], n[3 * f + 1], n[3 * f + 2]] as P)));
  const length = (e: number) =>
    Math.hypot(...at(t.edgeVertex[2 * e]).map((x, k) => x - at(t.edgeVertex[2 * e + 1])[k]));
  const around = (v: number) => {
    const faces: number[] = [];
    const edges: number[] = [];
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      faces.push(t.cornerFace[t.vertexCorner[i]]);
      edges.push(t.cornerEdge[t.vertexCorner[i]]);
    }
    return { faces, edges };
  };
  const average = (edges: number[]) => edges.reduce((s, e) => s + length(e), 0) / Math.max(1, edges.length);
  if (kind === 'vertex')
    return Array.from({ length: mesh.vertexCount }, (_, v) => {
      const { faces, edges } = around(v);
      return { at: at(v), normal: faces.length ? normalOf(faces) : [0, 1, 0], half: average(edges) / 2, area: 0 };
    });
  if (kind === 'edge')
    return Array.from({ length: t.edgeCount }, (_, e) => {
      const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      const faces: number[] = [];
      for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) faces.push(t.cornerFace[t.edgeCorner[i]]);
      const half = Math.max(length(e), average([...around(a).edges, ...around(b).edges])) / 2;
      return { at: mean([at(a), at(b)]), normal: normalOf(faces), half, area: length(e) };
    });
  return Array.from({ length: mesh.faceCount }, (_, f) => {
    const ring = Array.from(mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]));
    const middle = mean(ring.map(at));
    let area = 0;
    for (let i = 0; i < ring.length; i++) {
      const [u, w] = [at(ring[i]), at(ring[(i + 1) % ring.length])].map((q) => q.map((x, k) => x - middle[k]));
      area += Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]) / 2;
    }
    const edges = Array.from({ length: ring.length }, (_, i) => t.cornerEdge[mesh.faceStart[f] + i]);
    return { at: middle, normal: normalOf([f]), half: Math.max(average(edges), Math.sqrt(area)) / 2, area };
  });
}

const TURN = Math.cos((30 * Math.PI) / 180) - 1e-6;
const far = (a: P, b: P) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const dot = (a: P, b: P) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export type Verdict = 'right' | 'lost' | 'near' | 'elsewhere';

/** The place of a mesh's surface that is nearest to another place, by a library that knows nothing of ours. */
const grounds = new WeakMap<Mesh, MeshBVH>();
export function groundAt(mesh: Mesh, at: P): P {
  let tree = grounds.get(mesh);
  if (!tree) {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    const { corners } = triangulate(mesh);
    geometry.setIndex(
      new BufferAttribute(
        corners.map((c) => mesh.cornerVertex[c]),
        1,
      ),
    );
    tree = new MeshBVH(geometry);
    grounds.set(mesh, tree);
  }
  return tree.closestPointToPoint(new Vector3(...at))!.point.toArray();
}

/**
 * `spot`: where on the new surface the place lies that the old one was at, for fewer cells round what is round draw the
 * whole of it in.
 */
export function judge(
  was: Seen,
  now: readonly Seen[],
  found: ArrayLike<number>,
  kind: PickKind,
  spot: () => P,
): Verdict {
  // Half a cell from corner to corner, on what may be bent: the cells before and after may be of different sizes.
  const reach = (s: Seen) => 1.65 * Math.max(was.half, s.half);
  const turned = kind === 'face' ? TURN : 0.5; // at a rim the normal of a line is that of whichever faces are there
  // Along the surface: fewer cells round what is round also draw it in.
  const away = (s: Seen) => {
    const d = [0, 1, 2].map((k) => s.at[k] - was.at[k]) as P;
    const in_ = dot(d, was.normal);
    if (Math.abs(in_) > 3 * reach(s)) return Infinity;
    return Math.sqrt(Math.max(0, dot(d, d) - in_ * in_));
  };
  const fits = (s: Seen, times = 1) =>
    dot(was.normal, s.normal) >= turned && Math.min(away(s), far(spot(), s.at)) <= times * reach(s);
  if (found.length === 0) return now.some((s) => fits(s, 0.5)) ? 'lost' : 'right';
  const list = Array.from(found, (i) => now[i]);
  if (list.every((s) => fits(s))) return 'right';
  return list.every((s) => Math.min(far(was.at, s.at), far(spot(), s.at)) <= 3 * reach(s)) ? 'near' : 'elsewhere';
}

interface Case {
  n: number;
  edit: Edit;
  stage: string;
  kind: PickKind;
  index: number;
  verdict: Verdict;
}

/** One miss in words: where it was, where it is said to be, and what made the model. */
function told(c: Case, was: Seen, now: readonly Seen[], found: ArrayLike<number>, steps: readonly Step[]): string {
  const short = (p: P) => p.map((x) => x.toFixed(2)).join(' ');
  const deg = (s: Seen) => ((Math.acos(Math.min(1, dot(was.normal, s.normal))) * 180) / Math.PI).toFixed(0);
  const said = Array.from(found, (i) => now[i]).map(
    (s) =>
      `[${short(s.at)} off ${(far(was.at, s.at) / (1.65 * Math.max(was.half, s.half))).toFixed(2)} turned ${deg(s)}°]`,
  );
  const counts = Object.entries(steps[0].values).filter(([k]) => /cut|sides|rows|made|cap/.test(k));
  const moves = (steps[1].values.moves as Move[]).map((m) => m.tool).join(' ');
  return (
    `${c.n} ${c.edit}, ${c.stage}, ${c.kind} ${c.index}: ${c.verdict} | ${steps[0].kind} ` +
    `${counts.map((x) => x.join(' ')).join(', ')} | ` +
    `${moves} | was ${short(was.at)} looking ${short(was.normal)}, now ${said.join(' ') || 'nothing'}`
  );
}

export interface Row {
  right: number;
  lost: number;
  near: number;
  elsewhere: number;
}

const none = (): Row => ({ right: 0, lost: 0, near: 0, elsewhere: 0 });

/** Counts of a ball of three cells or fewer change its very shape: they are told apart, not left out. */
function bodyOf({ kind, values }: Step): string {
  if (kind !== 'sphere') return 'of boxes and cylinders';
  return (values.cuts as number) > 3 ? 'of spheres' : 'of spheres of three cells and fewer';
}

/** `bare`: picks are keys alone, and what they meant is known only from having been followed. */
export async function survival(
  recipes: number,
  bare = false,
  report?: (text: string) => void,
  bodies: Record<string, Row> = {},
): Promise<Record<Edit, Row>> {
  const rows = Object.fromEntries(EDITS.map((e) => [e, none()])) as Record<Edit, Row>;
  for (let n = 0; n < recipes; n++) {
    const roll = dice(n + 1);
    const memory = new Memory(64 << 20);
    let made: Made;
    try {
      made = await recipe(roll, memory);
    } catch {
      continue; // a move that could not be made, on what chance had put there
    }
    const before = await follow(made.steps, memory);
    for (const edit of EDITS) {
      const steps = await edited(made, edit, roll, memory);
      if (!steps) continue;
      let after: Map<string, Mesh>;
      try {
        after = await follow(steps, memory);
      } catch {
        continue;
      }
      for (const stage of ['hand', 'mirror', 'fine']) {
        const a = before.get(stage);
        const b = after.get(stage);
        if (!a || !b || b.faceCount === 0) continue;
        for (const kind of KINDS) {
          const was = look(a, kind);
          const now = look(b, kind);
          for (let i = 0; i < PICKS_EACH; i++) {
            const index = roll(was.length);
            const whole = pickOf(a, kind, [index]);
            const pick = bare ? { kind, keys: whole.keys } : whole;
            const witness = bare ? memory.witnesses.of('judged') : undefined;
            if (witness) resolve(a, pick, witness);
            const { indices, followed } = resolve(b, pick, witness);
            // Where sizes change, so do places: a key that is there is the judge.
            const sure = (edit === 'sizes' || /move/.test(edit)) && indices.length > 0 && followed.length === 0;
            const verdict = sure ? 'right' : judge(was[index], now, indices, kind, () => groundAt(b, was[index].at));
            rows[edit][verdict]++;
            if (edit === 'counts of a generator') (bodies[bodyOf(steps[0])] ??= none())[verdict]++;
            if (verdict !== 'right' && report)
              report(told({ n, edit, stage, kind, index, verdict }, was[index], now, indices, steps));
          }
        }
      }
    }
  }
  return rows;
}

async function run(): Promise<Result[]> {
  const said = process.env.GLYPTA_DEBUG ? (text: string) => console.error(text) : undefined;
  const bodies: Record<string, Row> = {};
  const rows = await survival(RECIPES, false, said, bodies);
  const share = (r: Row, of: keyof Row) => (100 * r[of]) / Math.max(1, r.right + r.lost + r.near + r.elsewhere);
  const out: Result[] = [];
  const all: Row = none();
  for (const edit of EDITS) {
    const r = rows[edit];
    for (const k of Object.keys(all) as (keyof Row)[]) all[k] += r[k];
    const words =
      `lost ${share(r, 'lost').toFixed(2)}, near ${share(r, 'near').toFixed(2)}, elsewhere ` +
      `${share(r, 'elsewhere').toFixed(2)}`;
    const right = share(r, 'right');
    out.push({ name: edit, value: right, unit: '%', bar: `≥ 99 % (${words})`, ok: right >= 99 && r.elsewhere === 0 });
    if (edit !== 'counts of a generator') continue;
    for (const [name, row] of Object.entries(bodies).sort()) {
      const value = share(row, 'right');
      out.push({ name: `… ${name}`, value, unit: '%', bar: '≥ 99 %', ok: value >= 99 });
    }
  }
  const count = all.right + all.lost + all.near + all.elsewhere;
  out.push({
    name: 'all',
    value: share(all, 'right'),
    unit: '%',
    bar: `≥ 99 % of ${count}`,
    ok: share(all, 'right') >= 99,
  });
  out.push({ name: 'silently elsewhere', value: all.elsewhere, unit: '', bar: '0', ok: all.elsewhere === 0 });
  return out;
}

export const survivalBench: Benchmark = { name: 'survival', run };
