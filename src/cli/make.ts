import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { Memory } from '../core/recipe';
import { KINDS, writePng, safeName } from '../core/formats';
import { buildScene, SHIP_DEFAULTS } from '../document/build';
import { readProject } from '../document/bundle';
import { readInput, writeModel } from './files';
import { parseArgs, Usage } from './usage';

/** `make PROJECT --out DIR --formats glb,obj`: PROJECT is a project's ZIP, or JSON of an earlier version */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['out', 'formats'], []);
  if (o.positional.length !== 1 || !o.values.out) throw new Usage('make needs PROJECT and --out DIR.');
  const formats = (o.values.formats ?? 'glb').split(',').map((f) => f.trim().toLowerCase());
  const wrong = formats.find((f) => f !== 'zip' && !KINDS.some((k) => k.kind === f));
  if (wrong !== undefined)
    throw new Usage(
      `“${wrong}” is not a format that can be made; there are ${KINDS.map((k) => k.kind).join(', ')} and zip.`,
    );
  const { bytes, name } = readInput(o.positional[0]);
  const { document, files } = readProject(bytes, name);
  const blob = async (sha: string): Promise<Uint8Array> => {
    const b = files.get(sha);
    if (b === undefined) throw new Error('The file behind this step is not in the project.');
    if (createHash('sha256').update(b).digest('hex') !== sha) throw new Error('The file behind this step is damaged.');
    return b;
  };
  const { scene } = await buildScene(document, SHIP_DEFAULTS, { memory: new Memory(), blob, encode: writePng });
  for (const w of scene.warnings) console.error(w);
  mkdirSync(o.values.out, { recursive: true });
  const stem = safeName(document.name).replace(/\s+/g, '-').toLowerCase();
  for (const f of formats)
    for (const path of await writeModel(scene, join(o.values.out, `${stem}.${f}`))) console.log(path);
  return 0;
}
