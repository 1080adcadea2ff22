/** Steps that follow the recipe of another piece as a kit: once, for each part of what there is, or again and again. */
import { copiesAt, placeOfCopy } from '../copies/copies';
import { keepFaces } from '../edit/detach';
import { mergeGeometries, NO_GEOMETRY, whole, type Geometry } from '../geometry';
import { IDENTITY } from '../math/affine';
import { key2, keyOf } from '../math/hash';
import { components } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';
import { defineStep, everything, type StepContext } from '../recipe/define';
import { branchName, choice, count, ownValues, pieceName, text } from '../recipe/values';

const own = ownValues('its dials');
const kit = pieceName('the kit');

/** So many parts or rounds at most: each follows a recipe of its own. */
const MOST = 10_000;
function bearable(n: number, what: string): void {
  if (n > MOST)
    throw new Error(`That would be ${n.toLocaleString('en')} ${what}; ${MOST.toLocaleString('en')} are the most.`);
}

export const placed = defineStep({
  kind: 'kit',
  title: 'Start with the kit',
  sentence: ' {kit}',
  inputs: {},
  kits: (v) => [v.kit],
  help:
    'What another piece makes, with its dials turned as you like: it follows that piece wherever you leave its ' +
    'values',
  words: 'kit asset instance prefab component placement module preset',
  values: { kit, own },
  run: (_, v, c) => c.kit(v.kit, v.own),
});

export const through = defineStep({
  kind: 'through',
  title: 'Do as the kit',
  sentence: ' {kit}',
  inputs: { all: everything() },
  kits: (v) => [v.kit],
  help: 'Hands all so far to the recipe of another piece, and goes on with what comes of it',
  words: 'kit asset function module apply recipe reuse',
  values: { kit, own },
  run: ({ all }, v, c) => c.kit(v.kit, v.own, all),
});

export const handed = defineStep({
  kind: 'handed',
  title: 'Start with what is handed in',
  sentence: ', here {other}',
  inputs: {},
  names: (v) => (v.other === '' ? [] : [v.other]),
  help: 'For kits that work on something: what they are given where they are used, and a piece to try them on here',
  words: 'input kit parameter argument example placeholder',
  values: { other: pieceName('to try it on', 'nothing') },
  run: (_, v, c) => {
    if (c.handed) return c.handed;
    return v.other === '' ? NO_GEOMETRY : c.other(v.other).geometry;
  },
});

export const branch = defineStep({
  kind: 'branch',
  title: 'Start with',
  sentence: ' {other} as it is after step {step}',
  inputs: {},
  names: (v) => (v.other === '' ? [] : [branchName(v.other, v.step)]),
  help: 'A branch: goes its own way from a step of another recipe, which may take it in again further on',
  words: 'branch fork split stream from step',
  hidden: true,
  values: { other: pieceName('the piece'), step: text('step', '') },
  run: (_, v, c) => c.other(branchName(v.other, v.step)).geometry,
});

interface Share {
  geometry: Geometry;
  key: number;
  name: string;
}

/** Faces of one kind apart, each kind with a key that nothing but its own faces change. */
function sharesOf(mesh: Mesh, of: (f: number) => number, many: number, name: (i: number) => string): Share[] {
  const faces: number[][] = Array.from({ length: many }, () => []);
  for (let f = 0; f < mesh.faceCount; f++) faces[of(f)]?.push(f);
  const keys = mesh.faceKey;
  return faces.flatMap((list, i) => {
    if (list.length === 0) return [];
    const least = list.reduce((k, f) => Math.min(k, keys[f]), Infinity);
    return [{ geometry: { mesh: keepFaces(mesh, mask(mesh.faceCount, list)) }, key: least, name: name(i) }];
  });
}

function byPart(mesh: Mesh): Share[] {
  const { of, count: many } = components(mesh);
  bearable(many, 'parts');
  return sharesOf(
    mesh,
    (f) => of[mesh.cornerVertex[mesh.faceStart[f]]],
    many,
    (i) => `part ${i + 1}`,
  );
}

function bySet(mesh: Mesh): Share[] {
  const data = mesh.attributes.group?.data;
  const n = mesh.groups.length;
  const shares = sharesOf(
    mesh,
    (f) => (data && data[f] >= 0 ? data[f] : n),
    n + 1,
    (i) => mesh.groups[i] ?? 'the rest',
  );
  return shares.map((s) => ({ ...s, key: keyOf(s.name) }));
}

async function forEach(
  shares: readonly Share[],
  v: { kit: string; own: Readonly<Record<string, unknown>> },
  c: StepContext,
  again: boolean,
): Promise<{ value: Geometry; name: string; seed: number }[]> {
  const out = [];
  for (const [i, share] of shares.entries()) {
    c.progress(i / shares.length);
    const numbers = { ...v.own, number: i + 1, numbers: shares.length };
    const value = await c.kit(v.kit, numbers, share.geometry, again ? `${share.key}` : undefined);
    out.push({ value, name: share.name, seed: key2(c.id, share.key) });
  }
  return out;
}

export const each = defineStep({
  kind: 'each',
  title: 'For each',
  sentence: ' {by}, do as {kit}',
  inputs: { all: everything() },
  kits: (v) => [v.kit],
  help:
    'Hands every part, set or copy by itself to the recipe of another piece; its dials “number” and “numbers” ' +
    'tell which it is, of how many',
  words: 'loop foreach iterate every part piece set copy procedural',
  values: {
    by: choice('of', 'part', [
      ['part', 'part that hangs together'],
      ['set', 'set'],
      ['copy', 'copy'],
    ]),
    kit,
    own,
  },
  run: async ({ all }, v, c) => {
    if (v.by === 'copy') return eachCopy(all, v, c);
    const { mesh, ...past } = whole(all);
    if (!mesh || mesh.faceCount === 0) throw new Error('There are no faces before this step to share out.');
    const shares = v.by === 'part' ? byPart(mesh) : bySet(mesh);
    c.tell('shares', shares.length);
    const made = await forEach(shares, v, c, true);
    // As copies that stand where they are: so sets and materials keep their names, and each face knows which share it
    // is of.
    const copies = copiesAt(
      made.map((m) => m.value),
      { place: made.map(() => IDENTITY), key: made.map((m) => m.seed) },
      [...made.keys()],
    );
    const joined = whole({ copies });
    return past.curves
      ? mergeGeometries([
          { value: { curves: past.curves }, name: 'own' },
          { value: joined, name: 'made' },
        ])
      : joined;
  },
});

/** What is copied is worked on once, and stays copied where the kit does not ask which copy it is. */
async function eachCopy(
  all: Geometry,
  v: { kit: string; own: Readonly<Record<string, unknown>> },
  c: StepContext,
): Promise<Geometry> {
  const { copies, ...rest } = all;
  if (!copies || copies.of.length === 0) throw new Error('There are no copies before this step.');
  bearable(copies.of.length, 'copies');
  const shares = copies.sources.map((geometry, i): Share => ({ geometry, key: i, name: `source ${i + 1}` }));
  const made = await forEach(shares, v, c, true);
  const place = Array.from(copies.of, (_, i) => placeOfCopy(copies, i));
  const out = copiesAt(
    made.map((m) => m.value),
    { place, key: [...copies.key] },
    copies.of,
  );
  c.tell('shares', copies.of.length);
  return { ...rest, copies: out };
}

export const repeat = defineStep({
  kind: 'repeat',
  title: 'Do',
  sentence: ' {times} as {kit}',
  inputs: { all: everything() },
  kits: (v) => [v.kit],
  help:
    'Hands what comes of the recipe of another piece to it again and again; its dials “number” and “numbers” ' +
    'tell the round',
  words: 'loop iterate recursion again rounds procedural grow fractal',
  values: {
    times: count('how many', 3, { min: 0, max: 1_000_000, noun: ['time', 'times'] }),
    kit,
    own,
  },
  run: async ({ all }, v, c) => {
    bearable(v.times, 'rounds');
    let now = all;
    for (let i = 0; i < v.times; i++) {
      c.progress(i / v.times);
      now = await c.kit(v.kit, { ...v.own, number: i + 1, numbers: v.times }, now, `round ${i}`);
    }
    return now;
  },
});
