/**
 * Procedures: what turning a dial costs, in copies and as one mesh; a thousand placements of a kit; two hundred steps;
 * and picks through random changes of dials, counts and order in the demo's recipes.
 */
import { freeze, produce } from 'immer';
import { displayGeometry, whole, sizeOf, type Geometry } from '../src/core/geometry';
import { boundsOfMesh, pickOf, resolve, type Bounds, type Mesh } from '../src/core/mesh';
import { Memory } from '../src/core/recipe';
import { stepDef } from '../src/core/steps';
import { dice } from '../src/core/testing/mutants';
import { harbour } from '../src/demo/harbour';
import * as changes from '../src/document/changes';
import { addDial, setDial } from '../src/document/dials';
import { followDocument } from '../src/document/follow';
import type { ProjectDocument } from '../src/document/types';
import { median, type Benchmark, type Result } from './measure';
import { groundAt, judge, look, type Seen, type Verdict } from './survival';

const ms = (name: string, value: number, most: number): Result => ({
  name,
  value,
  unit: 'ms',
  bar: `≤ ${most} ms`,
  ok: value <= most,
});

/** As the worker holds it: what did not change is the very same, and frozen. */
const changed = (doc: ProjectDocument, edit: (d: ProjectDocument) => void): ProjectDocument => produce(doc, edit);

async function tower(): Promise<Result[]> {
  const base = freeze(structuredClone(await harbour()), true);
  const dial = base.dials!.find((d) => d.name === 'storeys')!.id;
  const id = base.pieces.find((p) => p.name === 'signal tower')!.id;
  const storey = base.pieces.find((p) => p.name === 'storey')!.id;
  // Storeys fine enough that sixty of them are about 40,000 faces.
  const fine = changed(base, (d) => {
    const steps = d.pieces.find((p) => p.id === storey)!.recipe;
    steps[0].values.sides = 48;
    steps[0].values.rows = 12;
  });
  const memory = new Memory();
  const at = (n: number) => changed(fine, (d) => setDial(d, dial, { value: n }));
  const follow = async (doc: ProjectDocument): Promise<Geometry> =>
    (await followDocument(doc, { memory }).piece(doc.pieces.find((p) => p.id === id)!)).shown!.geometry;
  const all = await follow(at(60));
  const smooth = 0.6;
  // Another number of storeys each time: one that was seen before is remembered, which is not what is measured.
  const docs = Array.from({ length: 24 }, (_, i) => at(59 - i));
  let i = 0;
  const next = () => follow(docs[i++]);
  const copies = await median(9, async () => {
    displayGeometry(await next(), smooth);
  });
  const flat = await median(7, async () => {
    displayGeometry(whole(await next()), smooth);
  });
  return [
    { name: 'Signal tower of 60 storeys', value: sizeOf(all).faces, unit: 'faces', bar: 'about 40,000', ok: true },
    ms('… dial to display buffers, copies', copies, 16),
    ms('… dial to display buffers, one mesh', flat, 120),
  ];
}

async function kits(): Promise<Result[]> {
  const doc = changes.newProject('Quay', 'game', 'm');
  changes.addPiece(doc, 'post', 'post');
  addDial(doc, { id: 'h', name: 'height', kind: 'length', value: 1, min: 0.1, max: 9 }, 'post');
  changes.addStep(doc, 'post', 'cylinder', 'c', { height: { formula: 'height' }, sides: 24 });
  changes.addStep(doc, 'post', 'subdivide', 's', { levels: 1 });
  for (let i = 0; i < 1000; i++) {
    changes.addPiece(doc, `p${i}`, `p${i}`);
    changes.addStep(doc, `p${i}`, 'kit', `k${i}`, { kit: 'post', own: i % 3 ? {} : { height: 1 + (i % 50) / 10 } });
  }
  freeze(doc, true);
  const memory = new Memory();
  const all = async (d: ProjectDocument) => {
    const followed = followDocument(d, { memory });
    let ran = 0;
    for (const p of d.pieces) if ((await followed.piece(p)).outcomes.some((o) => o.took > 0)) ran++;
    return ran;
  };
  await all(doc);
  const docs = Array.from({ length: 8 }, (_, i) =>
    changed(doc, (d) => {
      d.pieces[500].recipe[0].values.own = { height: 5 + i / 7 };
    }),
  );
  let i = 0;
  let ran = 0;
  const took = await median(7, async () => {
    ran = await all(docs[i++ % docs.length]);
  });
  return [
    ms('1,000 placements of a kit, one own value changed', took, 30),
    { name: '… pieces that ran again', value: ran, unit: '', bar: '1', ok: ran <= 1 },
  ];
}

async function long(): Promise<Result[]> {
  const doc = changes.newProject('Long', 'game', 'm');
  changes.addPiece(doc, 'p', 'p');
  changes.addStep(doc, 'p', 'box', 'b');
  for (let i = 0; i < 199; i++) changes.addStep(doc, 'p', 'place', `s${i}`, { x: i / 1000 });
  freeze(doc, true);
  const memory = new Memory();
  await followDocument(doc, { memory }).piece(doc.pieces[0]);
  const docs = Array.from({ length: 12 }, (_, i) => {
    const [piece] = doc.pieces;
    const recipe = piece.recipe.slice();
    recipe[199] = { ...recipe[199], values: { ...recipe[199].values, x: 5 + i } };
    return freeze({ ...doc, pieces: [{ ...piece, recipe }] }, true);
  });
  let i = 0;
  const took = await median(9, async () => {
    const d = docs[i++ % docs.length];
    await followDocument(d, { memory }).piece(d.pieces[0]);
  });
  return [ms('200 steps, the last one changed', took, 5)];
}

const CHANGES = Number(process.env.GLYPTA_CHANGES ?? 500);
const PICKS = 10;

/** One random change of a dial, a count or the order; undefined where chance found none. */
function edited(
  doc: ProjectDocument,
  roll: (most: number) => number,
): { doc: ProjectDocument; what: string; sized: boolean } | undefined {
  const kind = roll(3);
  const d = structuredClone(doc);
  if (kind === 0) {
    const dial = d.dials![roll(d.dials!.length)];
    const span = dial.max! - dial.min!;
    setDial(d, dial.id, { value: dial.min! + (span * roll(101)) / 100 });
    return { doc: d, what: `dial ${dial.name}`, sized: dial.kind !== 'count' || dial.name !== 'panels' };
  }
  const pieces = d.pieces.filter((p) => p.recipe.length > 1);
  const piece = pieces[roll(pieces.length)];
  if (kind === 1) {
    const counts = piece.recipe.flatMap((s) =>
      Object.entries(stepDef(s.kind)?.values ?? {})
        .filter(([n, v]) => v.kind === 'count' && typeof s.values[n] === 'number' && n !== 'levels')
        .map(([n, v]) => [s, n, v] as const),
    );
    if (counts.length === 0) return undefined;
    const [s, name, def] = counts[roll(counts.length)];
    const now = s.values[name] as number;
    s.values[name] = Math.max(def.min ?? 0, Math.min(def.max ?? 1e9, now + [1, 2, -1, now][roll(4)]));
    return { doc: d, what: `${piece.name} ${s.kind} ${name}`, sized: false };
  }
  const at = 1 + roll(piece.recipe.length - 1);
  if (at + 1 >= piece.recipe.length) return undefined;
  const [a, b] = [piece.recipe[at], piece.recipe[at + 1]];
  piece.recipe[at] = b;
  piece.recipe[at + 1] = a;
  return { doc: d, what: `${piece.name} order of ${a.kind}, ${b.kind}`, sized: true };
}

/** Where something would be if all of it had been sized as its bounds were. */
function mapped(was: Seen, a: Bounds, b: Bounds): Seen {
  const size = (x: Bounds, k: number) => Math.max(1e-9, x.max[k] - x.min[k]);
  const times = [0, 1, 2].map((k) => size(b, k) / size(a, k));
  const at = was.at.map((x, k) => b.min[k] + (x - a.min[k]) * times[k]) as Seen['at'];
  const n = was.normal.map((x, k) => x / times[k]) as Seen['normal'];
  const l = Math.hypot(...n) || 1;
  const grown = Math.max(...times);
  return { ...was, at, normal: n.map((x) => x / l) as Seen['normal'], half: was.half * grown };
}

/** Whether nothing at all is left of the copy that a face belonged to: then there is nothing to be found. */
function copyGone(a: Mesh, b: Mesh, face: number): boolean {
  const of = a.attributes.copy?.data;
  if (!of) return false;
  const left = new Set(b.faceKey);
  return !Array.from(a.faceKey).some((k, f) => of[f] === of[face] && left.has(k));
}

/** Each piece's mesh at its end. */
async function meshes(doc: ProjectDocument, memory: Memory): Promise<Map<string, Mesh>> {
  const out = new Map<string, Mesh>();
  const followed = followDocument(doc, { memory });
  for (const p of doc.pieces) {
    if (p.kind !== 'mesh') continue;
    const { outcomes } = await followed.piece(p);
    if (!outcomes.some((o) => o.error)) out.set(p.id, outcomes[outcomes.length - 1].mesh);
  }
  return out;
}

async function keys(): Promise<Result[]> {
  const doc = structuredClone(await harbour());
  const memory = new Memory(512 << 20);
  const before = await meshes(doc, memory);
  const total: Record<Verdict, number> = { right: 0, lost: 0, near: 0, elsewhere: 0 };
  const seen = new Map([...before].map(([id, m]) => [id, look(m, 'face')]));
  let toldOf = 0;
  let done = 0;
  for (let seed = 1; done < CHANGES && seed < 20 * CHANGES; seed++) {
    const roll = dice(seed * 7919);
    const change = edited(doc, roll);
    if (!change) continue;
    const after = await meshes(change.doc, memory);
    const touched = [...before].filter(([id, m]) => {
      const now = after.get(id);
      return now && now.faceCount > 0 && (now.cornerVertex !== m.cornerVertex || now.positions !== m.positions);
    });
    if (touched.length === 0) continue;
    done++;
    for (const [id, a] of touched) {
      const b = after.get(id)!;
      const was = seen.get(id)!;
      const now = look(b, 'face');
      for (let i = 0; i < PICKS; i++) {
        const index = roll(was.length);
        const { indices, followed } = resolve(b, pickOf(a, 'face', [index]));
        // Where sizes or the order change, so do places: a key that is there is the judge.
        const sure = change.sized && indices.length > 0 && followed.length === 0;
        const gone = indices.length === 0 && copyGone(a, b, index);
        const old = mapped(was[index], boundsOfMesh(a), boundsOfMesh(b));
        const verdict = sure || gone ? 'right' : judge(old, now, indices, 'face', () => groundAt(b, old.at));
        // Told to have been followed to what is where it was by its natural coordinates: not in silence.
        if (verdict === 'elsewhere' && followed.length > 0) toldOf++;
        else total[verdict]++;
        if (verdict !== 'right' && process.env.GLYPTA_DEBUG)
          console.error(
            seed,
            change.what,
            was[index].at.map((x) => x.toFixed(2)).join(' '),
            was[index].normal.map((x) => x.toFixed(2)).join(' '),
            verdict,
            indices.length,
            followed.length,
            Array.from(indices, (f) => now[f].at.map((x) => x.toFixed(2)).join(' ')).join(' | '),
          );
      }
    }
  }
  const all = total.right + total.lost + total.near + total.elsewhere + toldOf;
  const share = (n: number) => (100 * n) / Math.max(1, all);
  return [
    {
      name: `Picks through ${done} changes of dials, counts and order: stay where they were`,
      value: share(total.right + total.near),
      unit: '%',
      bar: `≥ 99 % of ${all}`,
      ok: share(total.right + total.near) >= 99,
    },
    { name: '… lost, and told', value: share(total.lost), unit: '%', bar: '≤ 1 %', ok: share(total.lost) <= 1 },
    {
      name: '… elsewhere, and told to have been followed',
      value: (100 * toldOf) / all,
      unit: '%',
      bar: '≤ 0.1 %',
      ok: toldOf <= all / 1000,
    },
    { name: '… silently elsewhere', value: total.elsewhere, unit: '', bar: '0', ok: total.elsewhere === 0 },
  ];
}

export const procedures: Benchmark = {
  name: 'procedures',
  run: async () => [...(await tower()), ...(await kits()), ...(await long()), ...(await keys())],
};
