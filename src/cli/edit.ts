import { readFileSync } from 'node:fs';
import * as yup from 'yup';
import { FileError } from '../core/formats';
import { resolve, type ElementPick } from '../core/mesh/picks';
import { countOf, keysOf, type PickKind } from '../core/mesh/picks';
import { keyOf } from '../core/math/hash';
import type { Mesh } from '../core/mesh';
import { complete, schemaOf } from '../core/recipe/values';
import { ruleDef, type Rule } from '../core/rules';
import { toolDef, type ToolDef } from '../core/tools';
import { otherIn, readModel, writeModel } from './files';
import { readPick } from './toolOptions';
import { parseArgs, Usage } from './usage';

/** One move as a file holds it: what it works on by number, by key, by the way faces look, or by rule. */
const schema = yup
  .array()
  .required()
  .max(100_000)
  .of(
    yup
      .object({
        tool: yup.string().required().max(40),
        kind: yup.string().oneOf(['vertex', 'edge', 'face']),
        pick: yup.string().max(1_000_000),
        keys: yup.array().of(yup.number().integer().required()).max(2_000_000),
        rule: yup
          .object({ id: yup.string().required().max(40), values: yup.object().default({}) })
          .noUnknown()
          .default(undefined),
        values: yup.object().default({}),
        piece: yup.string().max(200),
      })
      .noUnknown()
      .required(),
  );

interface Written {
  tool: string;
  kind?: PickKind;
  pick?: string;
  keys?: number[];
  rule?: Rule;
  values: Record<string, unknown>;
  piece?: string;
}

function read(path: string): Written[] {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(path === '-' ? 0 : path, 'utf8'));
  } catch (e) {
    throw new FileError(`${path}: ${e instanceof SyntaxError ? 'this is not JSON.' : 'it cannot be read.'}`);
  }
  try {
    const list = schema.validateSync(json, { strict: true }) as (Omit<Written, 'values'> & Partial<Written>)[];
    return list.map(({ values, rule, ...m }) => ({
      ...m,
      values: values ?? {},
      ...(rule ? { rule: { id: rule.id, values: rule.values ?? {} } } : {}),
    }));
  } catch (e) {
    throw new FileError(`${path}: ${(e as Error).message}.`);
  }
}

function indicesFor(mesh: Mesh, move: Written, tool: ToolDef, kind: PickKind): Uint32Array {
  if (move.rule || move.keys) {
    if (move.rule && !ruleDef(move.rule.id)) throw new Error(`There is no rule “${move.rule.id}”.`);
    const pick: ElementPick = { kind, keys: move.keys ?? [], ...(move.rule ? { rule: move.rule } : {}) };
    return resolve(mesh, pick).indices;
  }
  if (move.pick === undefined && tool.empty !== 'all') throw new Error('It does not say what it works on.');
  return readPick(move.pick ?? 'all', kind, countOf(mesh, kind), (axis, way) => {
    const facing = (['right', 'up', 'front'] as const)[axis];
    const back = (['left', 'down', 'back'] as const)[axis];
    const rule = { id: 'looks', values: { way: way > 0 ? facing : back, angle: Math.PI / 4 } };
    return Array.from(resolve(mesh, { kind: 'face', keys: [], rule }).indices);
  }).indices;
}

/** `edit FILE --moves moves.json OUT [--keys]`: moves one after another, as a recipe's shape by hand makes them. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['moves'], ['keys']);
  if (o.positional.length !== 2 || !o.values.moves) throw new Usage('edit needs FILE, --moves MOVES.json and OUT.');
  const moves = read(o.values.moves);
  const scene = await readModel(o.positional[0]);
  moves.forEach((move, n) => {
    const tool = toolDef(move.tool);
    const what = `Move ${n + 1}`;
    if (!tool) throw new FileError(`${what}: there is no tool “${move.tool}”. ./glypta tool lists them.`);
    const kind = move.kind ?? tool.picks[0];
    if (!tool.picks.includes(kind))
      throw new FileError(`${what}: ${tool.title.toLowerCase()} works on ${tool.picks.join(', ')}.`);
    try {
      schemaOf(tool.values).validateSync({ ...complete(tool.values, {}), ...move.values });
    } catch (e) {
      throw new FileError(`${what}: ${(e as Error).message}.`);
    }
    const values = complete(tool.values, move.values) as never;
    scene.pieces.forEach((piece, i) => {
      if (!piece.mesh || piece.mesh.faceCount === 0 || (move.piece && piece.name !== move.piece)) return;
      try {
        const indices = indicesFor(piece.mesh, move, tool, kind);
        const tell = (text: string) => console.error(`${piece.name}, move ${n + 1}: ${text}`);
        const around = { other: (name: string) => otherIn(scene, i, name) };
        const mesh = tool.run(piece.mesh, { kind, indices }, values, keyOf(`edit ${n}`), tell, around);
        scene.pieces[i] = { ...piece, mesh };
      } catch (e) {
        throw new FileError(`${piece.name}, move ${n + 1}, ${tool.title.toLowerCase()}: ${(e as Error).message}`);
      }
    });
  });
  for (const w of scene.warnings) console.error(w);
  if (o.flags.has('keys'))
    for (const p of scene.pieces)
      if (p.mesh) console.log(JSON.stringify({ piece: p.name, faces: [...keysOf(p.mesh, 'face')] }));
  await writeModel(scene, o.positional[1]);
  return 0;
}
