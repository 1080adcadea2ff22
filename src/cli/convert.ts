import { basename } from 'node:path';
import { readInput, readModel, writeModel, writeOutput } from './files';
import { parseArgs, Usage } from './usage';

/** `convert IN OUT [--text]`: models between all kinds, height pictures between theirs. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, [], ['text']);
  if (o.positional.length !== 2) throw new Usage('convert needs IN and OUT.');
  const [from, to] = o.positional;
  if (/\.(png|tiff?|raw|r16)$/i.test(to)) {
    const { readHeights, writeHeightsPng, writeHeightsRaw, writeHeightsTiff } = await import('../core/formats/heights');
    const { bytes, name } = readInput(from);
    const heights = readHeights(bytes, name);
    let write = writeHeightsRaw;
    if (/png$/i.test(to)) write = writeHeightsPng;
    else if (/tiff?$/i.test(to)) write = writeHeightsTiff;
    writeOutput(to, write(heights));
    console.error(`Wrote ${to}.`);
    return 0;
  }
  const scene = await readModel(from);
  for (const w of scene.warnings) console.error(w);
  for (const path of await writeModel(scene, to, o.flags.has('text')))
    console.error(`Wrote ${path === to ? to : basename(path)}.`);
  return 0;
}
