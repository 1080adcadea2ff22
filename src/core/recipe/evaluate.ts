/**
 * The evaluator. A recipe is followed from top to bottom; the result of each step is remembered under the hash of its
 * kind, its values and the hashes of all it takes, so a change runs again only what depends on it. A step that fails
 * passes its input on and keeps its sentence to itself. Which steps there are, how files are read and what other pieces
 * show is handed in: nothing here knows them.
 */
import { readBrightness, type Brightness } from '../formats/brightness';
import { readPixels } from '../formats/pixels';
import type { Scene } from '../formats/scene';
import { asGeometry, isEmptyGeometry, NO_GEOMETRY, whole, type Geometry, type KindName } from '../geometry';
import { NO_COPIES } from '../copies/copies';
import { curvesFrom } from '../curve/curves';
import { keyOf, textHash } from '../math/hash';
import { withPulse } from '../math/pulse';
import { emptyMesh, type Mesh } from '../mesh/mesh';
import { canonical } from './canonical';
import { ownerOf } from './whereabouts';
import { resolve } from '../mesh/picks';
import {
  Cancelled,
  isStart,
  type Handed,
  type Kept,
  type Material,
  type Named,
  type StepContext,
  type StepDef,
} from './define';
import { lasting } from './lasting';
import type { Memory } from './memory';
import { complete, isFormula, type Expression, type Step, type ValueDefs, type ValuesOf } from './values';
import { TEXTURE_ENDS, type Warning } from './define';

export interface Outcome {
  step: string;
  geometry: Geometry;
  /** Its mesh, copies made into it; an empty one where it has none. Worked out when it is asked for. */
  readonly mesh: Mesh;
  hash: string;
  error?: string;
  warnings: Warning[];
  figures: Record<string, number>;
  /** Milliseconds; 0 when remembered. */
  took: number;
}

/** The end of another piece's recipe, where it stands as seen from this one. */
export type OtherPiece = Named;

export interface Kits {
  /** Tells one state of a kit from another. Throws one sentence where it is gone, or follows who asks. */
  hash(id: string): Promise<string>;
  follow(
    id: string,
    own: Readonly<Record<string, unknown>>,
    handed?: { readonly geometry: Geometry; readonly hash: string },
    round?: string,
  ): Promise<Geometry>;
}

export interface EvaluateOptions {
  memory: Memory;
  stepDef(kind: string): StepDef | undefined;
  read(bytes: Uint8Array, name: string): Scene | Promise<Scene>;
  materials?: readonly Material[];
  /** What a picture of a material is stored as. */
  picture?: (id: string) => { readonly blob: string; readonly name: string } | undefined;
  /** Follow the recipe only to this step. */
  upTo?: string;
  blob?: (sha: string) => Promise<Uint8Array>;
  /** Throws one sentence where the piece is gone, or follows this one. */
  piece?: (id: string) => Promise<OtherPiece>;
  /** Kits: pieces whose recipes are followed for others. */
  kits?: Kits;
  /**
   * What this recipe is handed, with what tells it from other such; `round`: its keys are to be none of another
   * round's.
   */
  handed?: { readonly geometry: Geometry; readonly hash: string };
  progress?: (step: string, share: number) => void;
  /** Asked often; true stops the work with Cancelled. */
  cancelled?: () => boolean;
  now?: () => number;
}

const noBlob = async (sha: string): Promise<Uint8Array> => {
  throw new Error(`The file behind this step (${sha.slice(0, 8)}…) is not here.`);
};
const noPiece = async (): Promise<OtherPiece> => {
  throw new Error('Other pieces are not to be had here.');
};

/** What a step is given where nothing of that kind came before. */
const NOTHING: { readonly [K in KindName]: () => NonNullable<Geometry[K]> } = {
  mesh: emptyMesh,
  curves: () => curvesFrom([], 0),
  copies: () => NO_COPIES,
};

const outcome = (of: Omit<Outcome, 'mesh'>): Outcome => ({
  ...of,
  get mesh() {
    return whole(of.geometry).mesh ?? emptyMesh();
  },
});

/** Formulas with what the pictures are that their dials name. */
async function withPictures<V extends Record<string, unknown>>(
  values: V,
  defs: ValueDefs,
  read: (sha: string, name: string) => Promise<Brightness>,
): Promise<V> {
  let out = values;
  for (const [name, def] of Object.entries(defs)) {
    const { given } = (def.kind === 'expression' ? (values[name] ?? {}) : {}) as Partial<Expression>;
    if (!given?.some((d) => d.file)) continue;
    const whole = given.map(async (d) => (d.file ? { ...d, read: await read(d.file.sha, d.file.name) } : d));
    out = { ...out, [name]: { ...(values[name] as Expression), given: await Promise.all(whole) } };
  }
  return out;
}

const sentenceOf = (e: unknown): string =>
  e instanceof Error && e.message ? e.message : 'This step could not do its work.';

export async function evaluate(steps: readonly Step[], o: EvaluateOptions): Promise<Outcome[]> {
  const out: Outcome[] = [];
  const now = o.now ?? (() => performance.now());
  let geometry = NO_GEOMETRY;
  // What a recipe is handed flows beside its steps: all of them may hang on it.
  let hash = o.handed ? `handed:${o.handed.hash}` : 'nothing';
  const pass = (step: Step, more: Partial<Outcome> = {}) => {
    out.push(outcome({ step: step.id, geometry, hash, warnings: [], figures: {}, took: 0, ...more }));
  };
  for (const step of steps) {
    if (o.cancelled?.()) throw new Cancelled();
    const def = o.stepDef(step.kind);
    if (!step.on) pass(step);
    else if (!def)
      pass(step, {
        error: `This version does not know the step “${step.kind}”. It was kept as it is, and passed over.`,
      });
    else {
      const start = now();
      const taken = await takeOthers(step, def, o);
      const seen = seenBy(def, o);
      const own = textHash(`${step.kind}|${step.id}|${canonical(step.values)}|${hash}|${taken.hash}${seen}`);
      const had = o.memory.get(own);
      const result = had ?? (await runStep(step, def, geometry, taken, { before: hash, own }, o, out));
      if (!had) o.memory.set(own, result);
      ({ geometry } = result);
      hash = own;
      const { error, warnings, figures } = result;
      pass(step, { error, warnings, figures, took: had ? 0 : now() - start });
    }
    if (step.id === o.upTo) break;
  }
  return out;
}

/** What of the project, beyond its values, a step goes by. */
function seenBy(def: StepDef, { materials = [], picture }: EvaluateOptions): string {
  if (!def.usesMaterials) return '';
  const ids = def.usesPictures ? materials.flatMap((m) => Object.values(m.maps ?? {})) : [];
  return `|${canonical(materials)}${ids.map((id) => picture?.(id)?.blob ?? '').join()}`;
}

interface Taken {
  given: Record<string, Handed>;
  /** Those that its values name; why one is not to be had, where it is not. */
  named: Map<string, Named | string>;
  hash: string;
  error?: string;
}

/** What a step takes from other pieces. */
async function takeOthers(step: Step, def: StepDef, o: EvaluateOptions): Promise<Taken> {
  const out: Taken = { given: {}, named: new Map(), hash: '' };
  for (const [name, taken] of Object.entries(def.inputs)) {
    if (taken.from !== 'piece') continue;
    const id = step.values[name];
    try {
      if (isFormula(id)) throw new Error(id.wrong ?? `“${id.formula}” cannot be worked out here.`);
      if (typeof id !== 'string' || id === '') throw new Error('Choose the other piece.');
      const other = await (o.piece ?? noPiece)(id);
      out.given[name] = other;
      out.hash += `${name}:${other.hash}`;
    } catch (e) {
      if (e instanceof Cancelled) throw e;
      out.error = sentenceOf(e);
      out.hash += `${name}!${out.error}`;
    }
  }
  let values: ValuesOf<ValueDefs>;
  try {
    values = complete(def.values, step.values);
  } catch {
    // What cannot be worked out is told where the step runs.
    return out;
  }
  for (const id of new Set(def.names?.(values as never) ?? [])) {
    try {
      const other = await (o.piece ?? noPiece)(id);
      out.named.set(id, other);
      out.hash += `|${id}:${(def.inOwnSpace && other.own?.hash) || other.hash}`;
    } catch (e) {
      if (e instanceof Cancelled) throw e;
      out.named.set(id, sentenceOf(e));
      out.hash += `|${id}!${sentenceOf(e)}`;
    }
  }
  for (const id of new Set(def.kits?.(values as never) ?? [])) {
    try {
      if (id === '' || !o.kits) throw new Error('Choose the kit.');
      out.hash += `|kit ${id}:${await o.kits.hash(id)}`;
    } catch (e) {
      if (e instanceof Cancelled) throw e;
      out.error = sentenceOf(e);
      out.hash += `|kit ${id}!${out.error}`;
    }
  }
  return out;
}

/** It works on a mesh, and does not know of copies. */
const needsWhole = (def: StepDef): boolean => {
  const taken = Object.values(def.inputs).filter((i) => i.from === 'before');
  return taken.some((i) => i.kind === 'mesh') && !taken.some((i) => i.kind === 'copies');
};

/** What was textured is so no longer, though it is there. */
function losesTexture(before: readonly (Geometry | Handed | string)[], { mesh, copies }: Geometry): boolean {
  if (copies || !mesh?.faceCount || mesh.textures) return false;
  return before.some((b) => typeof b !== 'string' && isTextured('geometry' in b ? b.geometry : b));
}

const isTextured = ({ mesh, copies }: Geometry): boolean =>
  mesh?.textures !== undefined || copies?.sources.some((s) => s.mesh?.textures) === true;

async function runStep(
  step: Step,
  def: StepDef,
  had: Geometry,
  taken: Taken,
  hashes: { before: string; own: string },
  o: EvaluateOptions,
  earlier: readonly Outcome[],
): Promise<Kept> {
  const warnings: Warning[] = [];
  const figures: Record<string, number> = {};
  const partHash = (name: string) => textHash(`part|${step.kind}|${step.id}|${hashes.before}|${name}`);
  const blob = o.blob ?? noBlob;
  const witness = (owner: string) => o.memory.witnesses.of(ownerOf(step, owner));
  const add = (name: string, by: number): void => {
    figures[name] = (figures[name] ?? 0) + by;
  };
  const stop = (): void => {
    if (o.cancelled?.()) throw new Cancelled();
  };
  const context: StepContext = {
    id: keyOf(step.id),
    find: (mesh, pick, owner) => {
      const r = resolve(mesh, pick, witness(owner));
      add('kept', pick.keys.length - r.lost.length - r.followed.length);
      add('followed', r.followed.length);
      add('lost', r.lost.length);
      return r;
    },
    witness,
    materials: o.materials ?? [],
    blob,
    progress: (share) => {
      stop();
      o.progress?.(step.id, share);
    },
    warn: (w) => {
      warnings.push(typeof w === 'string' ? { text: w } : w);
    },
    tell: (name, value) => {
      figures[name] = value;
    },
    add,
    other: (id) => {
      const found = taken.named.get(id);
      if (found === undefined || typeof found === 'string') throw new Error(found ?? 'Choose the other piece.');
      return found;
    },
    handed: o.handed?.geometry,
    kit: (id, own, handed, round) =>
      o.kits
        ? o.kits.follow(id, own, handed && { geometry: handed, hash: `${hashes.own}/${round ?? ''}` }, round)
        : Promise.reject(new Error('Kits are not to be had here.')),
    picture: async (id) => {
      const stored = o.picture?.(id);
      if (!stored) throw new Error('A picture of its material is not here.');
      return o.memory.pixelsOf(stored.blob, async () => readPixels(await blob(stored.blob), stored.name));
    },
    // Followed once more for others, steps have a round after their name.
    earlier: (id) => earlier.findLast((x) => x.step === id || x.step.startsWith(`${id}/`))?.geometry,
    scene: (sha, name) => o.memory.scene(`${sha}/${name}`, async () => o.read(await blob(sha), name)),
    follow: async (steps) => {
      const inner = await evaluate(steps, { ...o, upTo: undefined, handed: undefined });
      const failed = inner.find((x) => x.error);
      if (failed) throw new Error(failed.error);
      return inner[inner.length - 1]?.geometry ?? NO_GEOMETRY;
    },
    recall: (name) => o.memory.get(partHash(name)),
    // Whoever waits is no longer looked at: it begins again with the work.
    lasting: (asked) => lasting(o.memory.lasting, { ...asked, work: () => withPulse(stop, () => asked.work()) }),
    keep: (name, part) => o.memory.set(partHash(name), part),
  };
  try {
    if (taken.error) throw new Error(taken.error);
    const start = isStart(def);
    const flat = !start && had.copies !== undefined && needsWhole(def);
    if (flat) figures.flattened = had.copies!.of.length;
    const before = flat ? whole(had) : had;
    const given: Record<string, unknown> = { ...taken.given };
    const past: Record<string, unknown> = start ? {} : { ...before };
    for (const [name, { from, kind }] of Object.entries(def.inputs)) {
      if (from !== 'before') continue;
      given[name] = kind === 'all' ? before : (before[kind] ?? NOTHING[kind]());
      if (kind === 'all') for (const k of Object.keys(past)) delete past[k];
      else delete past[kind];
    }
    stop();
    const values = await withPictures(complete(def.values, step.values), def.values, (sha, name) =>
      o.memory.picture(sha, async () => readBrightness(await blob(sha), name)),
    );
    const made = asGeometry(await withPulse(stop, () => def.run(given, values, context)));
    const geometry = { ...past, ...made };
    const taking = start ? [...taken.named.values()] : [had, ...Object.values(taken.given)];
    if (losesTexture(taking, geometry)) warnings.push({ text: TEXTURE_ENDS });
    // What draws something of its own needs nothing before it.
    if (!start && isEmptyGeometry(before) && isEmptyGeometry(geometry))
      warnings.unshift({ text: 'There is nothing before this step to work on.' });
    return { geometry, warnings, figures };
  } catch (e) {
    if (e instanceof Cancelled) throw e;
    return { geometry: had, warnings, figures, error: sentenceOf(e) };
  }
}
