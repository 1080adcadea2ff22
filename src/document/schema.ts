/** What may be in a document. Everything that arrives from outside passes here first. */
import * as yup from 'yup';
import { stepDef } from '../core/recipe/registry';
import { moveDef } from '../core/recipe/moves';
import { schemaOf } from '../core/recipe/values';
import { FORMAT, type Patch, type ProjectDocument, type ProjectExport } from './types';

const id = yup.string().required().max(60).matches(/^[\w.~-]+$/, '${path} must be a plain id');
const name = yup.string().required().max(200);

export const UNITS = ['mm', 'cm', 'm', 'in', 'ft'] as const;
export const PURPOSES = ['render', 'game', 'print'] as const;

const stepSchema = yup.object({ id, kind: yup.string().required().max(40), values: yup.object().required(), on: yup.boolean().required(), note: yup.string().max(2000).optional() }).noUnknown();

const materialSchema = yup.object({
  id, name, color: yup.string().required().matches(/^#[0-9a-f]{6}$/i, '${path} must be a colour like #a1b2c3'),
  roughness: yup.number().required().min(0).max(1), metalness: yup.number().required().min(0).max(1),
}).noUnknown();

const pieceSchema = yup.object({
  id, name, kind: yup.string().required().oneOf(['mesh', 'group']), parent: yup.string().max(60).nullable().defined(),
  recipe: yup.array().of(stepSchema).required().max(1000), visible: yup.boolean().required(), locked: yup.boolean().required(),
  upTo: yup.string().max(60).nullable().defined(), smooth: yup.number().required().min(0).max(Math.PI),
}).noUnknown();

export const newProjectSchema = yup.object({ name: name.trim().min(1), purpose: yup.string().required().oneOf(PURPOSES), units: yup.string().required().oneOf(UNITS) }).noUnknown();

const documentSchema = yup.object({
  format: yup.number().required().oneOf([FORMAT], 'it was made by a newer version'), name,
  purpose: yup.string().required().oneOf(PURPOSES), units: yup.string().required().oneOf(UNITS),
  pieces: yup.array().of(pieceSchema).required().max(20000), materials: yup.array().of(materialSchema).required().max(5000),
}).noUnknown();

export const patchesSchema = yup.array().of(yup.object({
  op: yup.string().required().oneOf(['add', 'remove', 'replace']),
  path: yup.array().of(yup.mixed<string | number>().required().test('key', 'a path holds names and numbers', (k) => (typeof k === 'number' ? Number.isInteger(k) && k >= 0 : typeof k === 'string' && k !== '__proto__' && k !== 'constructor' && k !== 'prototype'))).required().max(40),
  value: yup.mixed(),
}).noUnknown()).required().min(1).max(10000);

export const changeSchema = yup.object({ base: yup.number().required().integer().min(0), patches: patchesSchema, label: yup.string().max(200).defined(), window: yup.string().required().max(60), id: yup.string().required().max(60) }).noUnknown();

/** One sentence that says what is wrong, where, for a person. */
export class InvalidDocument extends Error {}

const options = { strict: true, abortEarly: true } as const;

/** Checks a whole document: its shape, the values of every step and move it knows, and that references lead somewhere. */
export function checkDocument(value: unknown): ProjectDocument {
  let doc: ProjectDocument;
  try { doc = documentSchema.validateSync(value, options) as unknown as ProjectDocument; } catch (e) { throw new InvalidDocument(sentence('The project', e)); }
  const ids = new Set<string>(), before = new Set<string>();
  for (const piece of doc.pieces) {
    if (ids.has(piece.id)) throw new InvalidDocument(`Two pieces share the id ${piece.id}.`);
    ids.add(piece.id);
    if (piece.parent !== null && !before.has(piece.parent)) throw new InvalidDocument(`The piece “${piece.name}” is in a group that is not there, or comes before it.`);
    if (piece.kind === 'group') before.add(piece.id);
    for (const step of piece.recipe) checkStep(step, piece.name);
  }
  return doc;
}

function checkStep(step: ProjectDocument['pieces'][number]['recipe'][number], piece: string): void {
  const def = stepDef(step.kind);
  if (!def) return; // kept, and passed over when followed
  try {
    schemaOf(def.values).validateSync({ ...Object.fromEntries(Object.entries(def.values).map(([k, d]) => [k, d.default])), ...step.values }, options);
  } catch (e) { throw new InvalidDocument(sentence(`The step “${def.title}” of ${piece}`, e)); }
  if (step.kind !== 'shape') return;
  for (const move of (step.values.moves ?? []) as { tool: string; values: Record<string, unknown> }[]) {
    const m = moveDef(move.tool);
    if (!m) continue;
    try {
      schemaOf(m.values).validateSync({ ...Object.fromEntries(Object.entries(m.values).map(([k, d]) => [k, d.default])), ...move.values }, options);
    } catch (e) { throw new InvalidDocument(sentence(`A move “${m.title}” of ${piece}`, e)); }
  }
}

export function checkExport(value: unknown): ProjectExport {
  const v = value as Partial<ProjectExport> | null;
  if (typeof v !== 'object' || v === null || v.glypta === undefined) throw new InvalidDocument('This is not a project that Glypta exported.');
  if (v.glypta !== FORMAT) throw new InvalidDocument('This project was made by a newer version.');
  const blobs = v.blobs ?? {};
  if (typeof blobs !== 'object' || Object.entries(blobs).some(([k, b]) => !/^[0-9a-f]{64}$/.test(k) || typeof b !== 'string')) throw new InvalidDocument('The files inside the project are not readable.');
  return { glypta: FORMAT, document: checkDocument(v.document), blobs };
}

export function sentence(what: string, e: unknown): string {
  const m = e instanceof yup.ValidationError ? e.errors[0] : String(e);
  return `${what} cannot be accepted: ${m.replace(/\.$/, '')}.`;
}

export function checkPatches(value: unknown): Patch[] {
  return patchesSchema.validateSync(value, options) as Patch[];
}
