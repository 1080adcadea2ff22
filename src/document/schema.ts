/** What may be in a document. Everything that arrives from outside passes here first. */
import * as yup from 'yup';
import { stepDef } from '../core/steps';
import { toolDef } from '../core/tools';
import { pickSchema, schemaOf } from '../core/recipe';
import { SIDES } from '../core/blueprint';
import { MAPS, type MapName } from '../core/material';
import { FORMAT, type Patch, type ProjectDocument, type ProjectExport, type Step } from './types';
import { FORMATS, upgrade } from './upgrade';

const id = yup
  .string()
  .required()
  .max(60)
  .matches(/^[\w.~-]+$/, '${path} must be a plain id');
const name = yup.string().required().max(200);

export const UNITS = ['mm', 'cm', 'm', 'in', 'ft'] as const;
export const PURPOSES = ['render', 'game', 'print'] as const;

const stepSchema = yup
  .object({
    id,
    kind: yup.string().required().max(40),
    values: yup.object().required(),
    on: yup.boolean().required(),
    note: yup.string().max(2000).optional(),
    fold: yup.string().max(80).optional(),
  })
  .noUnknown();

const pair = yup
  .mixed<[number, number]>()
  .test(
    'pair',
    '${path} must be 2 numbers',
    (v) =>
      v === undefined ||
      (Array.isArray(v) && v.length === 2 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e5)),
  );

const eachMap = <T>(schema: T) => Object.fromEntries(MAPS.map((m) => [m, schema])) as Record<MapName, T>;

const laidSchema = yup
  .object({
    set: yup.number().integer().min(1).max(3),
    shift: pair,
    size: pair,
    turn: yup.number().min(-100).max(100),
    strength: yup.number().min(-1000).max(1000),
  })
  .noUnknown()
  .default(undefined);

const materialSchema = yup
  .object({
    id,
    name,
    color: yup
      .string()
      .required()
      .matches(/^#[0-9a-f]{6}$/i, '${path} must be a colour like #a1b2c3'),
    roughness: yup.number().required().min(0).max(1),
    metalness: yup.number().required().min(0).max(1),
    opacity: yup.number().min(0).max(1),
    tinted: yup.boolean(),
    seeThrough: yup.boolean(),
    cut: yup.number().min(0).max(1),
    glow: yup.string().matches(/^#[0-9a-f]{6}$/i, '${path} must be a colour like #a1b2c3'),
    glowStrength: yup.number().min(0).max(1000),
    bothSides: yup.boolean(),
    unlit: yup.boolean(),
    laid: yup.object(eachMap(laidSchema)).noUnknown().default(undefined),
    maps: yup
      .object(eachMap(yup.string().max(60)))
      .noUnknown()
      .default(undefined),
  })
  .noUnknown();

/** Small fixed lists of numbers, checked by a plain loop: there are five for every piece. */
const numbers = (count: number, most = 1e9) =>
  yup
    .mixed<number[]>()
    .required()
    .test(
      'numbers',
      `\${path} must be ${count} numbers`,
      (v) => Array.isArray(v) && v.length === count && v.every((x) => typeof x === 'number' && Math.abs(x) <= most),
    );
const finite = (min: number, max: number) => yup.number().required().min(min).max(max);
const sha = yup
  .string()
  .required()
  .matches(/^[0-9a-f]{64}$/, '${path} must name a stored file');

const placeSchema = yup
  .object({
    at: numbers(3),
    turn: numbers(3, 1e4),
    size: numbers(3, 1e6),
    lean: numbers(3, 1e6),
    pivot: numbers(3),
    axes: yup
      .mixed<number[]>()
      .test(
        'axes',
        '${path} must be 3 numbers',
        (v) =>
          v === undefined ||
          (Array.isArray(v) && v.length === 3 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e4)),
      ),
  })
  .noUnknown();
const stationSchema = yup
  .object({ id, name, along: yup.string().required().oneOf(['u', 'v']), at: finite(-1e6, 1e6) })
  .noUnknown();
const roundSchema = yup
  .object({
    id,
    u: finite(-1e6, 1e6),
    v: finite(-1e6, 1e6),
    a: finite(0, 1e6),
    b: finite(0, 1e6),
    turn: finite(-10, 10),
  })
  .noUnknown();
const blueprintSchema = yup
  .object({
    image: id,
    frame: numbers(4, 1e6),
    level: finite(-10, 10),
    scale: yup.number().required().moreThan(0).max(1e6),
    origin: numbers(2),
    side: yup.string().required().oneOf(SIDES),
    opacity: finite(0, 1),
    brightness: finite(-1, 1),
    contrast: finite(-1, 1),
    filter: yup.string().required().oneOf(['smooth', 'pixels']),
    depth: yup.string().required().oneOf(['behind', 'in place', 'in front']),
    seen: yup.string().required().oneOf(['always', 'own view']),
    pickable: yup.boolean().required(),
    stations: yup.array().of(stationSchema).required().max(1000),
    rounds: yup.array().of(roundSchema).required().max(1000),
  })
  .noUnknown();
const imageSchema = yup
  .object({
    id,
    name,
    blob: sha,
    mime: yup.string().required().max(60),
    width: finite(1, 1e6),
    height: finite(1, 1e6),
    bits: yup.number().required().oneOf([8, 16, 32]),
    use: yup.string().required().oneOf(['picture', 'height']),
  })
  .noUnknown();
const anchorSchema = yup
  .object({
    piece: yup.string().max(60).nullable().defined(),
    kind: yup.string().required().oneOf(['vertex', 'edge', 'face', 'pivot', 'free']),
    key: finite(0, Number.MAX_SAFE_INTEGER),
    t: finite(0, 1),
    at: numbers(3),
    spots: yup.string().max(120),
  })
  .noUnknown();
const tapeSchema = yup
  .object({
    id,
    kind: yup.string().required().oneOf(['length', 'angle', 'diameter']),
    ends: yup.array().of(anchorSchema).required().min(2).max(3),
  })
  .noUnknown();
const settingsSchema = yup
  .object({
    precision: yup.number().required().integer().min(0).max(8),
    triangles: yup.number().required().integer().min(0).max(1e9),
    bed: numbers(3, 1000),
    up: yup.string().required().oneOf(['y', 'z']),
    grid: finite(1e-6, 1e5),
    ground: yup.boolean().required(),
    background: yup.string().required().oneOf(['dawn', 'plain', 'dusk']),
  })
  .noUnknown();

const DIAL_KINDS = [
  ...['length', 'angle', 'number', 'count'],
  ...['toggle', 'choice', 'colour', 'ramp', 'piece', 'material', 'picture'],
];
const dialSchema = yup
  .object({
    id,
    name: yup
      .string()
      .required()
      .max(40)
      .matches(/^[\p{L}_][\p{L}\p{N}_]*$/u),
    kind: yup.string().required().oneOf(DIAL_KINDS),
    options: yup.array().max(1000).of(yup.string().max(60).defined()).default(undefined).optional(),
    points: yup.array().max(200).of(numbers(2)).default(undefined).optional(),
    smooth: yup.boolean(),
    slider: yup.boolean(),
    rule: yup
      .object({
        piece: id,
        fact: yup.string().required().max(40),
        wanted: finite(-1e12, 1e12),
        density: yup.number().min(0).max(100),
      })
      .noUnknown()
      .default(undefined)
      .optional(),
    value: finite(-1e9, 1e9),
    min: yup.number().min(-1e9).max(1e9),
    max: yup.number().min(-1e9).max(1e9),
    note: yup.string().max(500),
  })
  .noUnknown();

const pieceSchema = yup
  .object({
    id,
    name,
    kind: yup.string().required().oneOf(['mesh', 'group', 'blueprint']),
    parent: yup.string().max(60).nullable().defined(),
    link: yup.string().max(60).nullable().defined(),
    place: placeSchema.required(),
    ghost: yup.boolean().required(),
    blueprint: blueprintSchema.default(undefined),
    sets: yup
      .array()
      .max(1000)
      .of(yup.object({ id, name, pick: pickSchema.required() }).noUnknown().required()),
    dials: yup.array().max(1000).of(dialSchema.required()),
    recipe: yup.array().of(stepSchema).required().max(1000),
    visible: yup.boolean().required(),
    locked: yup.boolean().required(),
    upTo: yup.string().max(60).nullable().defined(),
    about: yup.string().max(2000),
    notes: yup
      .array()
      .max(200)
      .of(
        yup
          .object({
            id,
            text: yup.string().required().max(2000),
            beside: id,
            x: finite(-1e6, 1e6),
            y: finite(-1e6, 1e6),
          })
          .noUnknown()
          .required(),
      )
      .default(undefined)
      .optional(),
    edition: yup
      .object({ kit: id, number: yup.number().required().integer().min(1).max(1e6) })
      .noUnknown()
      .default(undefined),
    smooth: yup.number().required().min(0).max(Math.PI),
  })
  .noUnknown();

export const newProjectSchema = yup
  .object({
    name: name.trim().min(1),
    purpose: yup.string().required().oneOf(PURPOSES),
    units: yup.string().required().oneOf(UNITS),
  })
  .noUnknown();

const documentSchema = yup
  .object({
    format: yup.number().required().oneOf([FORMAT], 'it was made by a newer version'),
    name,
    purpose: yup.string().required().oneOf(PURPOSES),
    units: yup.string().required().oneOf(UNITS),
    pieces: yup.array().required().max(20000),
    materials: yup.array().of(materialSchema).required().max(5000),
    images: yup.array().of(imageSchema).required().max(5000),
    tapes: yup.array().of(tapeSchema).required().max(5000),
    settings: settingsSchema.required(),
    dials: yup.array().max(1000).of(dialSchema.required()),
  })
  .noUnknown();

const OPS = ['add', 'remove', 'replace'];
const MOST_PATCHES = 10000;
const MOST_PATH = 40;

/** Looked at by plain loops: there may be thousands. */
function isPatch(p: unknown): boolean {
  if (typeof p !== 'object' || p === null) return false;
  const { op, path } = p as { op?: unknown; path?: unknown };
  if (!OPS.includes(op as string) || !Array.isArray(path) || path.length > MOST_PATH) return false;
  if (!Object.keys(p).every((k) => k === 'op' || k === 'path' || k === 'value')) return false;
  return path.every((k) => typeof k === 'string' || (Number.isInteger(k) && k >= 0));
}

const patchesSchema = yup
  .mixed<Patch[]>()
  .required()
  .test(
    'patches',
    `\${path} must be 1 to ${MOST_PATCHES} patches`,
    (v) => Array.isArray(v) && v.length > 0 && v.length <= MOST_PATCHES && v.every(isPatch),
  );

export const changeSchema = yup
  .object({
    base: yup.number().required().integer().min(0),
    patches: patchesSchema,
    label: yup.string().max(200).defined(),
    window: yup.string().required().max(60),
    id: yup.string().required().max(60),
  })
  .noUnknown();

/** One sentence that says what is wrong, where, for a person. */
export class InvalidDocument extends Error {}

const options = { strict: true, abortEarly: true } as const;

/**
 * Checks a whole document: its shape, the values of every step and move it knows, and that references lead somewhere.
 * What is the very same as in a document that was found good (`before`) is not looked at again.
 */
export function checkDocument(value: unknown, before?: ProjectDocument): ProjectDocument {
  let doc: ProjectDocument;
  try {
    doc = upgrade(value);
    documentSchema.validateSync(before ? withoutKnown(doc, before) : doc, options);
    const known = new Set<unknown>(before?.pieces);
    for (const piece of doc.pieces) if (!known.has(piece)) checkPiece(piece);
  } catch (e) {
    throw e instanceof InvalidDocument ? e : new InvalidDocument(sentence('The project', e));
  }
  const ids = new Set<string>();
  const groups = new Set<string>();
  const images = new Set(doc.images.map((i) => i.id));
  for (const piece of doc.pieces) {
    if (ids.has(piece.id)) throw new InvalidDocument(`Two pieces share the id ${piece.id}.`);
    ids.add(piece.id);
    if (piece.parent !== null && !groups.has(piece.parent))
      throw new InvalidDocument(`The piece “${piece.name}” is in a group that is not there, or comes before it.`);
    if (piece.kind === 'group') groups.add(piece.id);
    if (piece.blueprint && !images.has(piece.blueprint.image))
      throw new InvalidDocument(`The picture of the blueprint “${piece.name}” is not in the project.`);
  }
  const own = new Set(doc.pieces.filter((p) => p.kind === 'mesh' && p.link === null).map((p) => p.id));
  for (const p of doc.pieces)
    if (p.link !== null && (!own.has(p.link) || p.kind !== 'mesh'))
      throw new InvalidDocument(`The piece “${p.name}” is linked to one that is not there.`);
  return doc;
}

/** The same with empty lists in the place of those that were found good. */
function withoutKnown(doc: ProjectDocument, before: ProjectDocument): unknown {
  if (typeof doc !== 'object' || doc === null) return doc;
  const out: Record<string, unknown> = { ...doc };
  for (const name of ['materials', 'images', 'tapes'] as const) if (doc[name] === before[name]) out[name] = [];
  return out;
}

/** Small pieces that were found good, by what they hold: a change to one of 5,000 checks that one. */
const good = new Set<string>();
const MOST_GOOD = 20000;
const SHORT = 4000;
function checkPiece(piece: unknown): void {
  const text = JSON.stringify(piece) ?? '';
  if (text.length < SHORT && good.has(text)) return;
  const ok = pieceSchema.validateSync(piece, options) as unknown as ProjectDocument['pieces'][number];
  if ((ok.kind === 'blueprint') !== (ok.blueprint !== undefined))
    throw new InvalidDocument(`The piece “${ok.name}” is a blueprint without a picture, or the other way round.`);
  for (const step of ok.recipe) checkStep(step, ok.name);
  if (text.length >= SHORT) return;
  if (good.size >= MOST_GOOD) good.clear();
  good.add(text);
}

function checkStep(step: ProjectDocument['pieces'][number]['recipe'][number], piece: string, depth = 0): void {
  const def = stepDef(step.kind);
  if (!def) return; // kept, and passed over when followed
  try {
    schemaOf(def.values).validateSync(
      { ...Object.fromEntries(Object.entries(def.values).map(([k, d]) => [k, d.default])), ...step.values },
      options,
    );
  } catch (e) {
    throw new InvalidDocument(sentence(`The step “${def.title}” of ${piece}`, e));
  }
  for (const [name, value] of Object.entries(def.values)) {
    const inner = step.values[name] === undefined ? [] : (value.recipes?.(step.values[name]) ?? []);
    if (inner.length && depth > 20)
      throw new InvalidDocument(`${piece} is merged of pieces within pieces, deeper than can be followed.`);
    for (const recipe of inner)
      for (const part of recipe) {
        checkPart(part, piece);
        checkStep(part, piece, depth + 1);
      }
  }
  if (step.kind !== 'shape') return;
  for (const move of (step.values.moves ?? []) as { tool: string; values: Record<string, unknown> }[]) {
    const m = toolDef(move.tool);
    if (!m) continue;
    try {
      schemaOf(m.values).validateSync(
        { ...Object.fromEntries(Object.entries(m.values).map(([k, d]) => [k, d.default])), ...move.values },
        options,
      );
    } catch (e) {
      throw new InvalidDocument(sentence(`A move “${m.title}” of ${piece}`, e));
    }
  }
}

/** Steps that come from elsewhere, as they are kept. Throws one sentence. */
export function checkSteps(value: unknown): Step[] {
  if (!Array.isArray(value) || value.length > 1000)
    throw new InvalidDocument('A recipe is a list of at most 1000 steps.');
  value.forEach((step, i) => checkPart(step, `the text (step ${i + 1})`));
  for (const step of value as Step[]) checkStep(step, 'the text');
  return value as Step[];
}

function checkPart(step: unknown, piece: string): void {
  try {
    stepSchema.validateSync(step, options);
  } catch (e) {
    throw new InvalidDocument(sentence(`A step of ${piece}`, e));
  }
}

export function checkExport(value: unknown): ProjectExport {
  const v = value as Partial<ProjectExport> | null;
  if (typeof v !== 'object' || v === null || v.glypta === undefined)
    throw new InvalidDocument('This is not a project that Glypta exported.');
  if (!FORMATS.includes(v.glypta)) throw new InvalidDocument('This project was made by a newer version.');
  const blobs = v.blobs ?? {};
  if (
    typeof blobs !== 'object' ||
    Object.entries(blobs).some(([k, b]) => !/^[0-9a-f]{64}$/.test(k) || typeof b !== 'string')
  )
    throw new InvalidDocument('The files inside the project are not readable.');
  return { glypta: FORMAT, document: checkDocument(v.document), blobs };
}

export function sentence(what: string, e: unknown): string {
  const m = e instanceof yup.ValidationError ? e.errors[0] : String(e);
  return `${what} cannot be accepted: ${m.replace(/\.$/, '')}.`;
}

export function checkPatches(value: unknown): Patch[] {
  return patchesSchema.validateSync(value, options) as Patch[];
}
