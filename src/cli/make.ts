import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { Memory } from '../core/recipe/evaluate';
import { writePng } from '../core/formats/png';
import { FileError, safeName } from '../core/formats/scene';
import { buildScene, SHIP_DEFAULTS } from '../document/build';
import { checkExport } from '../document/schema';
import { readInput, writeModel } from './files';
import { parseArgs, Usage } from './usage';

/** `make PROJECT.json --out DIR --formats glb,obj` */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['out', 'formats'], []);
  if (o.positional.length !== 1 || !o.values.out) throw new Usage('make needs PROJECT.json and --out DIR.');
  const formats = (o.values.formats ?? 'glb').split(',').map((f) => f.trim().toLowerCase());
  const wrong = formats.find((f) => !['glb', 'obj', 'zip'].includes(f));
  if (wrong !== undefined) throw new Usage(`“${wrong}” is not a format that can be made; there are glb, obj and zip.`);
  const { bytes, name } = readInput(o.positional[0]);
  let json: unknown;
  try { json = JSON.parse(new TextDecoder().decode(bytes)); } catch { throw new FileError(`${name} is not readable JSON.`); }
  const project = checkExport(json);
  const blob = async (sha: string): Promise<Uint8Array> => {
    const text = project.blobs[sha];
    if (text === undefined) throw new Error('The file behind this step is not in the project.');
    const b = new Uint8Array(Buffer.from(text, 'base64'));
    if (createHash('sha256').update(b).digest('hex') !== sha) throw new Error('The file behind this step is damaged.');
    return b;
  };
  const { scene } = await buildScene(project.document, SHIP_DEFAULTS, { memory: new Memory(), blob, encode: writePng });
  for (const w of scene.warnings) console.error(w);
  mkdirSync(o.values.out, { recursive: true });
  const stem = safeName(project.document.name).replace(/\s+/g, '-').toLowerCase();
  for (const f of formats) for (const path of await writeModel(scene, join(o.values.out, `${stem}.${f}`))) console.log(path);
  return 0;
}
