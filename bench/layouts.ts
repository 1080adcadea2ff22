/**
 * Layouts through random changes upstream: of the surface that was there before, how much lies where it lay on the
 * sheet. Judged by geometry alone: the nearest place of the old surface says where a new face should lie; what has no
 * old surface near it, looking the same way, is new and does not count. Where sizes change, keys are the judge.
 */
import { faceNormals, type Mesh, triangulate } from '../src/core/mesh';
import { raysOf } from '../src/core/mesh/rays';
import { Memory } from '../src/core/recipe/memory';
import { followRecipe, stepDef } from '../src/core/steps';
import { defaultsOf, type Step } from '../src/core/recipe/values';
import { dice } from '../src/core/testing/mutants';
import { uvFigures } from '../src/core/uv';
import { writeLayout } from '../src/core/uv/follow/layout';
import { EDITS, edited, recipe, type Edit } from './survival';
import type { Benchmark, Result } from './measure';

const CHANGES = Number(process.env.GLYPTA_LAYOUTS ?? 300);

interface Sum {
  right: number;
  moved: number;
  fresh: number;
}

const unwrapped = (layout: string): Step => ({
  id: 'uv',
  kind: 'unwrap',
  on: true,
  values: { ...defaultsOf(stepDef('unwrap')!.values), size: '1024', layout },
});

const middle = (mesh: Mesh, data: ArrayLike<number>, width: number, f: number, byCorner: boolean): number[] => {
  const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
  const out = new Array<number>(width).fill(0);
  for (let c = s; c < e; c++)
    for (let k = 0; k < width; k++) out[k] += data[width * (byCorner ? c : mesh.cornerVertex[c]) + k] / (e - s);
  return out;
};

/** Surface and sheet area of each face. */
function areasOf(mesh: Mesh, uv: ArrayLike<number>): { surface: Float64Array; sheet: Float64Array } {
  const surface = new Float64Array(mesh.faceCount);
  const sheet = new Float64Array(mesh.faceCount);
  const t = triangulate(mesh);
  const p = mesh.positions;
  for (let i = 0; i < t.face.length; i++) {
    const c = [0, 1, 2].map((k) => t.corners[3 * i + k]);
    const v = c.map((x) => 3 * mesh.cornerVertex[x]);
    const e = [0, 1, 2].map((k) => p[v[1] + k] - p[v[0] + k]);
    const f = [0, 1, 2].map((k) => p[v[2] + k] - p[v[0] + k]);
    surface[t.face[i]] +=
      Math.hypot(e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]) / 2;
    const [ux, uy] = [uv[2 * c[1]] - uv[2 * c[0]], uv[2 * c[1] + 1] - uv[2 * c[0] + 1]];
    const [wx, wy] = [uv[2 * c[2]] - uv[2 * c[0]], uv[2 * c[2] + 1] - uv[2 * c[0] + 1]];
    sheet[t.face[i]] += Math.abs(ux * wy - uy * wx) / 2;
  }
  return { surface, sheet };
}

function compare(a: Mesh, b: Mesh, sized: boolean, sum: Sum, note?: (text: string) => void): void {
  const [ua, ub] = [a.attributes.uv.data, b.attributes.uv.data];
  const [na, nb] = [faceNormals(a), faceNormals(b)];
  const old = areasOf(a, ua);
  const now = areasOf(b, ub);
  const tree = raysOf(a);
  const tri = triangulate(a);
  const byKey = new Map(Array.from(a.faceKey, (k, f) => [k, f]));
  for (let f = 0; f < b.faceCount; f++) {
    const at = middle(b, b.positions, 3, f, false) as [number, number, number];
    const is = middle(b, ub, 2, f, true);
    let was: number[] | undefined;
    let face = -1;
    if (sized) {
      face = byKey.get(b.faceKey[f]) ?? -1;
      if (face >= 0) was = middle(a, ua, 2, face, true);
    } else {
      const hit = tree.nearest(at);
      const near = hit && hit.distance <= 0.2 * Math.sqrt(now.surface[f]);
      const looks = hit ? [0, 1, 2].reduce((n, k) => n + na[3 * hit.face + k] * nb[3 * f + k], 0) : 0;
      if (near && looks > 0.86) {
        face = hit.face;
        was = between(a, tri.corners.subarray(3 * hit.triangle, 3 * hit.triangle + 3), hit.at, ua);
      }
    }
    if (!was) {
      sum.fresh += now.surface[f];
      continue;
    }
    const cell = Math.sqrt(Math.max(old.sheet[face], now.sheet[f]));
    const off = Math.hypot(is[0] - was[0], is[1] - was[1]);
    if (off <= 0.5 * cell + 0.002) sum.right += now.surface[f];
    else {
      sum.moved += now.surface[f];
      note?.(`face ${f} at ${at.map((x) => x.toFixed(2)).join(' ')} off ${(off / cell).toFixed(1)} cells`);
    }
  }
}

/** What corners say at a place between them. */
function between(mesh: Mesh, corners: ArrayLike<number>, at: ArrayLike<number>, uv: ArrayLike<number>): number[] {
  const p = mesh.positions;
  const v = [0, 1, 2].map((k) => 3 * mesh.cornerVertex[corners[k]]);
  const area = (x: ArrayLike<number>, y: ArrayLike<number>, z: ArrayLike<number>): number => {
    const [u, w] = [0, 1].map((i) => [0, 1, 2].map((k) => (i ? z : y)[k] - x[k]));
    return Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]);
  };
  const q = v.map((o) => p.subarray(o, o + 3));
  const parts = [area(at, q[1], q[2]), area(at, q[2], q[0]), area(at, q[0], q[1])];
  const all = parts[0] + parts[1] + parts[2] || 1;
  return [0, 1].map((k) => parts.reduce((n, w, i) => n + (w / all) * uv[2 * corners[i] + k], 0));
}

async function layouts(): Promise<Result[]> {
  const sums = new Map<Edit, Sum>(EDITS.map((e) => [e, { right: 0, moved: 0, fresh: 0 }]));
  const said = process.env.GLYPTA_DEBUG ? (text: string) => console.error(text) : undefined;
  let done = 0;
  let flips = 0;
  let faces = 0;
  let over = 0;
  let outside = 0;
  for (let n = 1; done < CHANGES; n++) {
    const roll = dice(n + 5000);
    const memory = new Memory(64 << 20);
    const made = await recipe(roll, memory);
    const blobs = new Map<string, Uint8Array>();
    const follow = async (steps: readonly Step[], layout: string): Promise<Mesh | undefined> => {
      const out = await followRecipe([...steps, unwrapped(layout)], { memory, blob: async (sha) => blobs.get(sha)! });
      const failed = out.find((o) => o.error);
      if (failed) said?.(`${n} ${failed.step}: ${failed.error}`);
      return failed ? undefined : out[out.length - 1].mesh;
    };
    const a = await follow(made.steps, '');
    if (!a) continue;
    blobs.set('kept', writeLayout(a));
    for (const edit of EDITS) {
      if (done >= CHANGES) break;
      const changed = await edited(made, edit, roll, memory);
      const b = changed && (await follow(changed, 'kept'));
      if (!b) continue;
      done++;
      const own: Sum = { right: 0, moved: 0, fresh: 0 };
      compare(a, b, edit === 'sizes', own);
      const sum = sums.get(edit)!;
      for (const k of ['right', 'moved', 'fresh'] as const) sum[k] += own[k];
      const figures = uvFigures(b, b.attributes.uv.data as Float32Array);
      flips += figures.flips;
      faces += b.faceCount;
      over = Math.max(over, figures.overlap);
      outside = Math.max(outside, figures.outside);
      const share = own.moved / (own.right + own.moved || 1);
      if (share > 0.01 || figures.flips > 0 || figures.overlap > 0)
        said?.(
          `${n} ${edit}: moved ${(100 * share).toFixed(1)} %, ${figures.flips} flips, ${figures.overlap} on ` +
            `others | ${made.steps[0].kind} ${made.moves.map((m) => m.tool).join(' ')}`,
        );
    }
  }
  const all: Sum = { right: 0, moved: 0, fresh: 0 };
  const rows = [...sums].map(([edit, sum]): Result => {
    for (const k of ['right', 'moved', 'fresh'] as const) all[k] += sum[k];
    const share = (100 * sum.right) / (sum.right + sum.moved || 1);
    const fresh = (100 * sum.fresh) / (sum.right + sum.moved + sum.fresh || 1);
    return {
      name: `… ${edit} (${fresh.toFixed(0)} % of it new)`,
      value: share,
      unit: '%',
      bar: '≥ 99 %',
      ok: share >= 99,
    };
  });
  const share = (100 * all.right) / (all.right + all.moved || 1);
  return [
    {
      name: `Layouts through ${done} changes: surface that lies where it lay`,
      value: share,
      unit: '%',
      bar: '≥ 99 %',
      ok: share >= 99,
    },
    ...rows,
    { name: `… flipped, of ${faces} faces`, value: flips, unit: '', bar: '0', ok: flips === 0 },
    { name: '… most that lies on others', value: 100 * over, unit: '% of the sheet', bar: '0', ok: over === 0 },
    { name: '… most that lies outside', value: 100 * outside, unit: '% of the sheet', bar: '0', ok: outside === 0 },
  ];
}

export const layoutsBench: Benchmark = { name: 'layouts', run: layouts };
