import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { Memory } from '../core/recipe';
import { KINDS, writePng, safeName } from '../core/formats';
import { buildScene, SHIP_DEFAULTS } from '../document/build';
import { readProject } from '../document/bundle';
import { setDial } from '../document/dials';
import { dialsByRule } from '../document/facts';
import { setByText, sweepOf } from '../document/set';
import { tellDialValue } from '../document/telling';
import type { ProjectDocument } from '../document/types';
import { readInput, writeModel } from './files';
import { parseArgs, Usage } from './usage';

const asUsage = <T>(work: () => T): T => {
  try {
    return work();
  } catch (e) {
    throw new Usage((e as Error).message);
  }
};

/**
 * `make PROJECT --out DIR --formats glb,obj [--set dial=value …] [--sweep dial=a..b/n …]`: PROJECT is a project's ZIP,
 * or JSON of an earlier version. Of several sweeps each value of one is made with each of the others.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['out', 'formats'], [], ['set', 'sweep']);
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
  mkdirSync(o.values.out, { recursive: true });
  const base = structuredClone(document);
  for (const text of o.lists.set ?? []) asUsage(() => setByText(base, text));
  // What does not hang on a dial is followed once for all of them.
  const memory = new Memory();
  for (const { doc, suffix } of variants(base, o.lists.sweep ?? [])) {
    for (const { dial, x } of await dialsByRule(doc, { memory, blob })) setDial(doc, dial.id, { value: x });
    const { scene } = await buildScene(doc, SHIP_DEFAULTS, { memory, blob, encode: writePng });
    for (const w of scene.warnings) console.error(w);
    const stem = safeName(`${document.name}${suffix}`).replace(/\s+/g, '-').toLowerCase();
    for (const f of formats)
      for (const path of await writeModel(scene, join(o.values.out, `${stem}.${f}`))) console.log(path);
  }
  return 0;
}

const MOST_VARIANTS = 10_000;

/** Every variant that the sweeps ask for, with what its files are called after. */
function variants(base: ProjectDocument, sweeps: readonly string[]): { doc: ProjectDocument; suffix: string }[] {
  let out = [{ doc: base, suffix: '' }];
  for (const text of sweeps) {
    const { dial, values } = asUsage(() => sweepOf(base, text));
    if (out.length * values.length > MOST_VARIANTS)
      throw new Usage(`That would be ${out.length * values.length} files; ${MOST_VARIANTS} are the most.`);
    out = out.flatMap(({ doc, suffix }) =>
      values.map((value) => {
        const own = structuredClone(doc);
        setDial(own, dial.id, { value });
        const now = own.dials!.find((d) => d.id === dial.id)!;
        return { doc: own, suffix: `${suffix} ${dial.name} ${tellDialValue(now, doc)}` };
      }),
    );
  }
  return out;
}
