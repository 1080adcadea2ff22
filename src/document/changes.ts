/**
 * All changes to a document. Each takes a draft and alters it; the interface, the demo and tests call these and nothing
 * else. Where a change is already so, it does nothing, and no undo entry is made.
 */
import type { ElementPick } from '../core/mesh';
import type { HandPlaces } from '../core/uv';
import { toolDef } from '../core/tools';
import { stepDef } from '../core/steps';
import { isFormula } from '../core/recipe/values';
import { complete, defaultsOf, type Coloured, type Move } from '../core/recipe';
import { newId } from './ids';
import { pieceOf, type Draft } from './tree';
import {
  FORMAT,
  type LengthUnit,
  type Material,
  type ProjectDocument,
  type ProjectImage,
  type Purpose,
  type Settings,
  type Step,
  type Tape,
} from './types';
import { SETTINGS } from './upgrade';

export * from './blueprints';
export * from './joining';
export * from './pieces';
export * from './placing';
export * from './tree';
export { newId };

export const newProject = (name: string, purpose: Purpose = 'render', units: LengthUnit = 'mm'): ProjectDocument => ({
  format: FORMAT,
  name,
  purpose,
  units,
  pieces: [],
  materials: [],
  images: [],
  tapes: [],
  settings: structuredClone(SETTINGS),
});

export const stepOf = (doc: Draft, piece: string, step: string): Step => {
  const s = pieceOf(doc, piece).recipe.find((x) => x.id === step);
  if (!s) throw new Error('That step is no longer there.');
  return s;
};

// Steps

export function addStep(
  doc: Draft,
  piece: string,
  kind: string,
  id: string,
  values: Record<string, unknown> = {},
  after?: string,
): void {
  const def = stepDef(kind);
  if (!def) throw new Error(`There is no step “${kind}”.`);
  const recipe = pieceOf(doc, piece).recipe;
  const at = after === undefined ? recipe.length : recipe.findIndex((s) => s.id === after) + 1;
  recipe.splice(at, 0, { id, kind, values: { ...defaultsOf(def.values), ...values }, on: true });
}

export function setValues(doc: Draft, piece: string, step: string, values: Record<string, unknown>): void {
  Object.assign(stepOf(doc, piece, step).values, values);
}

export function setStep(
  doc: Draft,
  piece: string,
  step: string,
  part: { on?: boolean; note?: string; fold?: string },
): void {
  Object.assign(stepOf(doc, piece, step), part);
}

export function removeStep(doc: Draft, piece: string, step: string): void {
  const p = pieceOf(doc, piece);
  const at = p.recipe.findIndex((s) => s.id === step);
  if (at < 0) return;
  if (p.upTo === step) p.upTo = p.recipe[at - 1]?.id ?? null;
  p.recipe.splice(at, 1);
}

export function copyStep(doc: Draft, piece: string, step: string, id: string): void {
  const p = pieceOf(doc, piece);
  const at = p.recipe.findIndex((s) => s.id === step);
  p.recipe.splice(at + 1, 0, { ...(JSON.parse(JSON.stringify(p.recipe[at])) as Step), id });
}

export function moveStep(doc: Draft, piece: string, step: string, to: number): void {
  const r = pieceOf(doc, piece).recipe;
  const from = r.findIndex((s) => s.id === step);
  if (from < 0 || from === to) return;
  const [s] = r.splice(from, 1);
  r.splice(Math.max(0, Math.min(r.length, to)), 0, s);
}

// Shape by hand

const samePick = (a: ElementPick, b: ElementPick): boolean =>
  a.kind === b.kind &&
  a.keys.length === b.keys.length &&
  a.keys.every((k, i) => k === b.keys[i]) &&
  JSON.stringify(a.rule) === JSON.stringify(b.rule);

/** Adds a move; consecutive moves, turns and sizes of one pick become one. */
export function addMove(doc: Draft, piece: string, step: string, move: Move): void {
  const list = stepOf(doc, piece, step).values.moves as Move[];
  const def = toolDef(move.tool);
  const last = list[list.length - 1];
  if (
    def?.merge &&
    last &&
    !last.off &&
    last.tool === move.tool &&
    last.mirror === move.mirror &&
    samePick(last.pick, move.pick) &&
    ![...Object.values(last.values), ...Object.values(move.values)].some(isFormula)
  ) {
    const merged = def.merge(complete(def.values, last.values), complete(def.values, move.values));
    if (merged) {
      last.values = merged;
      return;
    }
  }
  list.push(move);
}

export function setMove(doc: Draft, piece: string, step: string, move: string, values: Record<string, unknown>): void {
  const m = (stepOf(doc, piece, step).values.moves as Move[]).find((x) => x.id === move);
  if (m) Object.assign(m.values, values);
}

export function removeMove(doc: Draft, piece: string, step: string, move: string): void {
  const values = stepOf(doc, piece, step).values;
  values.moves = (values.moves as Move[]).filter((m) => m.id !== move);
}

/** Switches a move off or on, or names it; an empty name is none. */
export function markMove(
  doc: Draft,
  piece: string,
  step: string,
  move: string,
  { off, name }: { off?: boolean; name?: string },
): void {
  const m = (stepOf(doc, piece, step).values.moves as Move[]).find((x) => x.id === move);
  if (!m) return;
  if (off === true) m.off = true;
  if (off === false) delete m.off;
  if (name !== undefined) {
    if (name.trim()) m.name = name.trim();
    else delete m.name;
  }
}

/** Puts a move to another place in its list. */
export function placeMove(doc: Draft, piece: string, step: string, move: string, to: number): void {
  const list = stepOf(doc, piece, step).values.moves as Move[];
  const from = list.findIndex((x) => x.id === move);
  if (from < 0) return;
  const [m] = list.splice(from, 1);
  list.splice(Math.max(0, Math.min(list.length, to)), 0, m);
}

/** The same move once more, right after it. */
export function copyMove(doc: Draft, piece: string, step: string, move: string, id: string): void {
  const list = stepOf(doc, piece, step).values.moves as Move[];
  const at = list.findIndex((x) => x.id === move);
  if (at >= 0) list.splice(at + 1, 0, { ...(JSON.parse(JSON.stringify(list[at])) as Move), id });
}

// Seams

export type Mark = 'cut' | 'hold' | 'let be';

/**
 * Marks edges: always apart, always together, or for the solver to decide. `beside`: faces of the islands that they are
 * of, which are laid out anew for it where the layout is kept.
 */
export function markSeams(
  doc: Draft,
  piece: string,
  step: string,
  keys: readonly number[],
  mark: Mark,
  beside: readonly number[] = [],
): void {
  const values = stepOf(doc, piece, step).values as Record<'cut' | 'hold' | 'anew', ElementPick> & { layout?: string };
  if (values.layout && beside.length > 0)
    values.anew = { kind: 'face', keys: [...new Set([...(values.anew?.keys ?? []), ...beside])] };
  const set = new Set(keys);
  const without = (p: ElementPick): ElementPick => ({ kind: 'edge', keys: p.keys.filter((k) => !set.has(k)) });
  const cut = without(values.cut);
  const hold = without(values.hold);
  values.cut = mark === 'cut' ? { kind: 'edge', keys: [...cut.keys, ...keys] } : cut;
  values.hold = mark === 'hold' ? { kind: 'edge', keys: [...hold.keys, ...keys] } : hold;
}

/** Which sheet places are for: that of the step, or one that it shares with other pieces. */
export type OfSheet = 'placed' | 'shared';

/** Fixes places on the sheet, and stops packing what is placed. Entries for the same corner are replaced. */
export function placeByHand(
  doc: Draft,
  piece: string,
  step: string,
  places: HandPlaces,
  sheet: OfSheet = 'placed',
): void {
  const values = stepOf(doc, piece, step).values as Record<OfSheet, HandPlaces | undefined> & { repack?: boolean };
  const name = (f: number, v: number) => `${f}/${v}`;
  const fresh = new Set(places.face.map((f, i) => name(f, places.vertex[i])));
  const face = [...places.face];
  const vertex = [...places.vertex];
  const uv = [...places.uv];
  const old = values[sheet];
  old?.face.forEach((f, i) => {
    if (fresh.has(name(f, old.vertex[i]))) return;
    face.push(f);
    vertex.push(old.vertex[i]);
    uv.push(old.uv[2 * i], old.uv[2 * i + 1]);
  });
  values[sheet] = { face, vertex, uv };
  if (sheet === 'placed') values.repack = false;
}

/** Gives faces back to the solver; without keys, all. */
export function releasePlaces(
  doc: Draft,
  piece: string,
  step: string,
  faces?: ReadonlySet<number>,
  sheet: OfSheet = 'placed',
): void {
  const values = stepOf(doc, piece, step).values as Record<OfSheet, HandPlaces | undefined> & {
    layout?: string;
    anew?: ElementPick;
  };
  const old = values[sheet];
  const face: number[] = [];
  const vertex: number[] = [];
  const uv: number[] = [];
  if (faces && old)
    old.face.forEach((f, i) => {
      if (!faces.has(f)) {
        face.push(f);
        vertex.push(old.vertex[i]);
        uv.push(old.uv[2 * i], old.uv[2 * i + 1]);
      }
    });
  values[sheet] = { face, vertex, uv };
  if (faces || sheet !== 'placed') return;
  values.layout = '';
  values.anew = { kind: 'face', keys: [] };
}

// Materials

export function addMaterial(doc: Draft, material: Material): void {
  const taken = new Set(doc.materials.map((m) => m.name));
  let name = material.name;
  for (let i = 2; taken.has(name); i++) name = `${material.name} ${i}`;
  doc.materials.push({ ...material, name });
}

export function setMaterial(doc: Draft, id: string, part: Partial<Omit<Material, 'id'>>): void {
  const m = doc.materials.find((x) => x.id === id);
  if (m) Object.assign(m, part);
}

export function removeMaterial(doc: Draft, id: string): void {
  doc.materials = doc.materials.filter((m) => m.id !== id);
}

/** Faces take a material; they leave the lists of others. An empty list of keys colours all faces. */
export function colorFaces(doc: Draft, piece: string, step: string, material: string, keys: readonly number[]): void {
  const values = stepOf(doc, piece, step).values as { base: string; colors: Coloured[] };
  if (keys.length === 0) {
    values.base = material;
    values.colors = [];
    return;
  }
  const set = new Set(keys);
  const rest = values.colors
    .map((c) => ({ material: c.material, keys: c.keys.filter((k) => !set.has(k)) }))
    .filter((c) => c.keys.length > 0);
  const had = rest.find((c) => c.material === material);
  if (had) had.keys = [...had.keys, ...keys];
  else rest.push({ material, keys: [...keys] });
  values.colors = rest;
}

// Project

export function setProject(doc: Draft, part: Partial<{ name: string; purpose: Purpose; units: LengthUnit }>): void {
  Object.assign(doc, part);
}

export function setSettings(doc: Draft, part: Partial<Settings>): void {
  Object.assign(doc.settings, part);
}

export function addImage(doc: Draft, image: ProjectImage): void {
  doc.images.push(image);
}

/** Takes a picture out of the project. Refused while something shows it. */
export function removeImage(doc: Draft, id: string): void {
  const by =
    doc.pieces.find((p) => p.blueprint?.image === id)?.name ??
    doc.materials.find((m) => Object.values(m.maps ?? {}).includes(id))?.name ??
    [doc, ...doc.pieces]
      .flatMap((holder) => holder.dials ?? [])
      .filter((d) => d.kind === 'picture' && d.options?.includes(id))
      .map((d) => `the dial ${d.name}`)[0];
  if (by !== undefined) throw new Error(`That picture is used by ${by}.`);
  doc.images = doc.images.filter((i) => i.id !== id);
}

export function addTape(doc: Draft, tape: Tape): void {
  doc.tapes.push(tape);
}

export function removeTape(doc: Draft, id: string): void {
  doc.tapes = doc.tapes.filter((t) => t.id !== id);
}
