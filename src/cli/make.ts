import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { Memory } from '../core/recipe/evaluate';
import { KINDS } from '../core/formats/kinds';
import { writePng } from '../core/formats/png';
import { FileError, safeName } from '../core/formats/scene';
import { buildScene, SHIP_DEFAULTS } from '../document/build';
import { isZip } from '../core/formats/zip';
import { readBundle } from '../document/bundle';
import { checkExport } from '../document/schema';
import type { ProjectDocument } from '../document/types';
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
  let document: ProjectDocument, files: ReadonlyMap<string, Uint8Array>;
  if (isZip(bytes)) ({ document, files } = readBundle(bytes, name));
  else {
    let json: unknown;
    try {
      json = JSON.parse(new TextDecoder().decode(bytes));
    } catch {
      throw new FileError(`${name} is neither a project's ZIP nor readable JSON.`);
    }
    const old = checkExport(json);
    document = old.document;
    files = new Map(Object.entries(old.blobs).map(([sha, text]) => [sha, new Uint8Array(Buffer.from(text, 'base64'))]));
  }
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
