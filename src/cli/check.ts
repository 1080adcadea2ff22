import { checkDefs } from '../core/check';
import { readModel } from './files';
import { parseArgs, Usage } from './usage';

const PURPOSES = ['render', 'game', 'print'];

/**
 * `check FILE [--for render|game|print] [--json]`: what may be wrong with a model. Ends with 1 where something is, for
 * what it is for.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['for'], ['json']);
  if (o.positional.length !== 1) throw new Usage('check needs one FILE.');
  const purpose = o.values.for ?? 'print';
  if (!PURPOSES.includes(purpose)) throw new Usage(`--for is one of ${PURPOSES.join(', ')}.`);
  const scene = await readModel(o.positional[0]);
  const pieces = scene.pieces
    .filter((p) => p.mesh && p.mesh.faceCount > 0)
    .map((p) => ({
      name: p.name,
      checks: checkDefs().map((c) => {
        const found = Array.from(c.find(p.mesh!));
        const fault = (c.wrongFor as readonly string[]).includes(purpose);
        return { id: c.id, title: c.title, kind: c.kind, count: found.length, fault, first: found.slice(0, 20) };
      }),
    }));
  const faults = pieces.reduce((n, p) => n + p.checks.filter((c) => c.fault && c.count > 0).length, 0);
  if (o.flags.has('json'))
    console.log(JSON.stringify({ for: purpose, faults, pieces, warnings: scene.warnings }, null, 2));
  else {
    for (const p of pieces) {
      console.log(p.name);
      for (const c of p.checks)
        if (c.count > 0) console.log(`  ${c.fault ? 'fault' : 'note '} ${c.title.padEnd(34)} ${c.count}`);
      if (p.checks.every((c) => c.count === 0)) console.log('  nothing found');
    }
    for (const w of scene.warnings) console.log(w);
    console.log(faults === 0 ? `Nothing that is a fault for ${purpose}.` : `${faults} kinds of fault for ${purpose}.`);
  }
  return faults === 0 ? 0 : 1;
}
