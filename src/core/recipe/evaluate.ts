/**
 * The evaluator. A recipe is followed from top to bottom; the result of each step is remembered under the hash of its kind, its values
 * and its input's hash, so a change runs again only what comes after it. A step that fails passes its input on and keeps its sentence to itself.
 */
import { keyOf, textHash } from '../math/hash';
import { readAny } from '../formats/read';
import type { Scene } from '../formats/scene';
import { canonical } from './canonical';
import { emptyMesh, type Mesh } from '../mesh/mesh';
import { Cancelled, type Material, type StepContext, type Warning } from './define';
import { stepDef } from './registry';
import { complete, type Step } from './values';

export type { Step };

export interface Outcome {
  step: string;
  mesh: Mesh;
  hash: string;
  error?: string;
  warnings: Warning[];
  figures: Record<string, number>;
  /** Milliseconds; 0 when remembered. */
  took: number;
}

interface Remembered {
  mesh: Mesh;
  warnings: Warning[];
  figures: Record<string, number>;
  error?: string;
}

/** Results by hash, the least recently used forgotten first once they hold more than the budget. */
export class Memory {
  private readonly map = new Map<string, { value: Remembered; bytes: number }>();
  private bytes = 0;
  constructor(private readonly budget = 768 * 1024 * 1024) {}

  get(hash: string): Remembered | undefined {
    const e = this.map.get(hash);
    if (!e) return undefined;
    this.map.delete(hash);
    this.map.set(hash, e);
    return e.value;
  }

  set(hash: string, value: Remembered): void {
    const had = this.map.get(hash);
    if (had) this.bytes -= had.bytes;
    const bytes = value.mesh.byteSize + 200;
    this.map.delete(hash);
    this.map.set(hash, { value, bytes });
    this.bytes += bytes;
    for (const [h, e] of this.map) {
      if (this.bytes <= this.budget || h === hash) break;
      this.map.delete(h);
      this.bytes -= e.bytes;
    }
  }

  /** The last few scenes read from stored files: the pieces of one file come from one reading. */
  private readonly scenes = new Map<string, Promise<Scene>>();
  scene(sha: string, name: string, blob: (sha: string) => Promise<Uint8Array>): Promise<Scene> {
    const key = `${sha}/${name}`;
    let p = this.scenes.get(key);
    if (!p) {
      p = blob(sha).then((bytes) => readAny(bytes, name));
      p.catch(() => this.scenes.delete(key));
      this.scenes.set(key, p);
      if (this.scenes.size > 3) this.scenes.delete(this.scenes.keys().next().value!);
    }
    return p;
  }

  get size(): number {
    return this.map.size;
  }
}

export interface EvaluateOptions {
  memory: Memory;
  materials?: readonly Material[];
  /** Follow the recipe only to this step. */
  upTo?: string;
  blob?: (sha: string) => Promise<Uint8Array>;
  progress?: (step: string, share: number) => void;
  /** Asked often; true stops the work with Cancelled. */
  cancelled?: () => boolean;
  now?: () => number;
}

const noBlob = async (sha: string): Promise<Uint8Array> => {
  throw new Error(`The file behind this step (${sha.slice(0, 8)}…) is not here.`);
};

export async function evaluate(steps: readonly Step[], o: EvaluateOptions): Promise<Outcome[]> {
  const out: Outcome[] = [];
  const now = o.now ?? (() => performance.now());
  const materials = o.materials ?? [];
  let mesh = emptyMesh(),
    hash = 'nothing';
  for (const step of steps) {
    if (o.cancelled?.()) throw new Cancelled();
    const def = stepDef(step.kind);
    if (!step.on) out.push({ step: step.id, mesh, hash, warnings: [], figures: {}, took: 0 });
    else if (!def)
      out.push({
        step: step.id,
        mesh,
        hash,
        error: `This version does not know the step “${step.kind}”. It was kept as it is, and passed over.`,
        warnings: [],
        figures: {},
        took: 0,
      });
    else {
      const values = complete(def.values, step.values);
      const own = textHash(
        `${step.kind}|${step.id}|${canonical(step.values)}|${hash}${def.usesMaterials ? `|${canonical(materials)}` : ''}`,
      );
      let result = o.memory.get(own),
        took = 0;
      if (!result) {
        const start = now();
        result = await runStep(step, def, values, mesh, hash, o, materials);
        took = now() - start;
        o.memory.set(own, result);
      }
      mesh = result.mesh;
      hash = own;
      out.push({
        step: step.id,
        mesh,
        hash,
        error: result.error,
        warnings: result.warnings,
        figures: result.figures,
        took,
      });
    }
    if (step.id === o.upTo) break;
  }
  return out;
}

async function runStep(
  step: Step,
  def: NonNullable<ReturnType<typeof stepDef>>,
  values: Record<string, unknown>,
  mesh: Mesh,
  inputHash: string,
  o: EvaluateOptions,
  materials: readonly Material[],
): Promise<Remembered> {
  const warnings: Warning[] = [],
    figures: Record<string, number> = {};
  const context: StepContext = {
    id: keyOf(step.id),
    materials,
    blob: o.blob ?? noBlob,
    progress: (share) => {
      if (o.cancelled?.()) throw new Cancelled();
      o.progress?.(step.id, share);
    },
    warn: (w) => {
      warnings.push(typeof w === 'string' ? { text: w } : w);
    },
    tell: (name, value) => {
      figures[name] = value;
    },
    scene: (sha, name) => o.memory.scene(sha, name, o.blob ?? noBlob),
    follow: async (steps) => {
      const inner = await evaluate(steps, { ...o, upTo: undefined }),
        failed = inner.find((x) => x.error);
      if (failed) throw new Error(failed.error);
      return inner[inner.length - 1]?.mesh ?? emptyMesh();
    },
    remember: (name, make) => {
      const hash = textHash(`part|${step.kind}|${step.id}|${inputHash}|${name}`);
      const had = o.memory.get(hash);
      if (had) return had.mesh;
      const made = make();
      o.memory.set(hash, { mesh: made, warnings: [], figures: {} });
      return made;
    },
  };
  try {
    if (def.takes === 'mesh' && mesh.vertexCount === 0)
      warnings.push({ text: 'There is nothing before this step to work on.' });
    return { mesh: await def.run({ mesh }, values, context), warnings, figures };
  } catch (e) {
    if (e instanceof Cancelled) throw e;
    return {
      mesh,
      warnings,
      figures,
      error: e instanceof Error && e.message ? e.message : 'This step could not do its work.',
    };
  }
}
