import { readModel, writeModel } from './files';
import { parseArgs, Usage } from './usage';

/** `convert IN OUT` */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, [], []);
  if (o.positional.length !== 2) throw new Usage('convert needs IN and OUT.');
  const scene = await readModel(o.positional[0]);
  for (const w of scene.warnings) console.error(w);
  for (const path of await writeModel(scene, o.positional[1])) console.error(`Wrote ${path}.`);
  return 0;
}
