import { keyOf } from '../core/math/hash';
import { countOf, type PickKind } from '../core/mesh/picks';
import { parseQuantity, type QuantityKind } from '../core/recipe/quantity';
import { complete, type ValueDef } from '../core/recipe/values';
import { toolDef, toolDefs, type Picked, type ToolDef } from '../core/tools';
import { FileError } from '../core/formats';
import { readModel, writeModel } from './files';
import { parseArgs, Usage } from './usage';

const WAYS: Record<string, readonly [axis: number, way: 1 | -1]> = {
  right: [0, 1],
  left: [0, -1],
  up: [1, 1],
  down: [1, -1],
  front: [2, 1],
  back: [2, -1],
};

/** What the declaration of a tool says of its values, as options. */
const option = (name: string, def: ValueDef<unknown>): string => {
  const words = def.options?.map(([o]) => o).join('|') ?? def.kind;
  return `--${name} (${words})`;
};

function list(): string {
  const lines = toolDefs().map((t) => {
    const values = Object.entries(t.values).filter(([, d]) => !d.inner);
    return `  ${t.id.padEnd(10)} ${t.help}\n${' '.repeat(13)}on ${t.picks.join(', ')}: ${values.map(([n, d]) => option(n, d)).join(' ')}`;
  });
  const picks = `--pick takes all, up, down, left, right, front, back (faces that look that way), or numbers as in 0,4,7-12.`;
  return `./glypta tool ID IN OUT [--pick WHICH] [--kind vertex|edge|face] [--VALUE …]\n\n${lines.join('\n')}\n\n${picks}`;
}

/** A value as a person types it, by what its declaration says it is. */
export function readOption(name: string, def: ValueDef<unknown>, text: string): unknown {
  try {
    if (def.kind === 'toggle' && !/^(true|false)$/.test(text)) throw new Error('it is true or false');
    if (def.kind === 'toggle') return text === 'true';
    const number = ['length', 'angle', 'number', 'count'].includes(def.kind);
    const value = number ? parseQuantity(text, def.kind as QuantityKind) : text;
    return def.schema.validateSync(value, { strict: true });
  } catch (e) {
    throw new Usage(`--${name}: ${(e as Error).message}`);
  }
}

/** The elements that words name. Throws `Usage` where they name none. */
export function readPick(
  words: string,
  kind: PickKind,
  count: number,
  looking: (axis: number, way: number) => number[],
): Picked {
  let found: number[] = [];
  if (words === 'all') found = Array.from({ length: count }, (_, i) => i);
  else if (Object.hasOwn(WAYS, words)) {
    if (kind !== 'face') throw new Usage(`--pick ${words} is for faces.`);
    found = looking(...WAYS[words]);
  } else
    for (const part of words.split(',')) {
      const m = /^(\d{1,9})(?:-(\d{1,9}))?$/.exec(part.trim());
      if (!m)
        throw new Usage(`--pick: “${part.slice(0, 40)}” is neither a number nor all, ${Object.keys(WAYS).join(', ')}.`);
      for (let i = Number(m[1]); i <= Math.min(count - 1, Number(m[2] ?? m[1])); i++) found.push(i);
    }
  const indices = Uint32Array.from(new Set(found.filter((i) => i < count))).sort();
  if (indices.length === 0)
    throw new Usage(`--pick ${words.slice(0, 40)} names nothing: there are ${count} of that kind.`);
  return { kind, indices };
}

function prepare(tool: ToolDef, values: Record<string, string>): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [name, def] of Object.entries(tool.values))
    if (values[name] !== undefined) out[name] = readOption(name, def, values[name]);
  return out;
}

/** `tool ID IN OUT …`: any tool of the bench on every piece of a file; without arguments, the list of them. */
export async function run(args: string[]): Promise<number> {
  if (args.length === 0) {
    console.log(list());
    return 0;
  }
  const tool = toolDef(args[0]);
  if (!tool) throw new Usage(`There is no tool “${args[0].slice(0, 40)}”. ./glypta tool lists them.`);
  const o = parseArgs(args.slice(1), ['pick', 'kind', ...Object.keys(tool.values)], []);
  if (o.positional.length !== 2) throw new Usage('tool needs its id, IN and OUT.');
  const kind = (o.values.kind ?? tool.picks[0]) as PickKind;
  if (!tool.picks.includes(kind)) throw new Usage(`${tool.title} works on ${tool.picks.join(', ')}.`);
  const values = complete(tool.values, prepare(tool, o.values) as never);
  const scene = await readModel(o.positional[0]);
  const { faceNormals } = await import('../core/mesh/normals');
  scene.pieces.forEach((piece, i) => {
    const { mesh } = piece;
    if (!mesh || mesh.faceCount === 0) return;
    const looking = (axis: number, way: number) => {
      const n = faceNormals(mesh);
      return Array.from({ length: mesh.faceCount }, (_, f) => f).filter((f) => way * n[3 * f + axis] > Math.SQRT1_2);
    };
    const picked = readPick(o.values.pick ?? 'all', kind, countOf(mesh, kind), looking);
    try {
      scene.pieces[i] = { ...piece, mesh: tool.run(mesh, picked, values, keyOf(`${tool.id}${i}`)) };
    } catch (e) {
      throw new FileError(`${piece.name}: ${(e as Error).message}`);
    }
  });
  for (const w of scene.warnings) console.error(w);
  await writeModel(scene, o.positional[1]);
  return 0;
}
