import { keyOf } from '../core/math/hash';
import { countOf, type PickKind } from '../core/mesh/picks';
import { complete, type ValueDef } from '../core/recipe/values';
import { ruleDefs } from '../core/rules';
import { toolDef, toolDefs, type ToolDef } from '../core/tools';
import { FileError } from '../core/formats';
import { otherIn, readModel, writeModel } from './files';
import { readOption, readPick, readRule } from './toolOptions';
import { parseArgs, Usage } from './usage';

/** What the declaration of a tool says of its values, as options. */
const option = (name: string, def: ValueDef<unknown>): string => {
  const words = def.options?.map(([o]) => o).join('|') ?? def.kind;
  return `--${name} (${words})`;
};

function list(): string {
  const lines = toolDefs().map((t) => {
    const values = Object.entries(t.values).filter(([, d]) => !d.inner);
    return (
      `  ${t.id.padEnd(10)} ${t.help}\n${' '.repeat(13)}on ${t.picks.join(', ')}: ` +
      `${values.map(([n, d]) => option(n, d)).join(' ')}`
    );
  });
  const picks = `--pick takes all, up, down, left, right, front, back (faces that look that way), numbers as in 0,4,7-12, or a rule as in rule:sharp,angle=40deg (${ruleDefs()
    .map((r) => r.id)
    .join(', ')}).`;
  return (
    `./glypta tool ID IN OUT [--pick WHICH] [--kind vertex|edge|face] [--VALUE …]\n\n${lines.join('\n')}\n\n` +
    `${picks}`
  );
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
    const which = o.values.pick ?? 'all';
    const picked = which.startsWith('rule:')
      ? readRule(which, kind, mesh)
      : readPick(which, kind, countOf(mesh, kind), looking);
    try {
      const tell = (text: string) => console.error(`${piece.name}: ${text}`);
      const around = { other: (name: string) => otherIn(scene, i, name) };
      scene.pieces[i] = { ...piece, mesh: tool.run(mesh, picked, values, keyOf(`${tool.id}${i}`), tell, around) };
    } catch (e) {
      throw new FileError(`${piece.name}: ${(e as Error).message}`);
    }
  });
  for (const w of scene.warnings) console.error(w);
  await writeModel(scene, o.positional[1]);
  return 0;
}
