import { readProject } from '../document/bundle';
import { tellProject } from '../document/telling';
import { readInput } from './files';
import { parseArgs, Usage } from './usage';

/** `tell PROJECT [--piece NAME]`: its recipes as sentences, line by line the same for the same project */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['piece'], []);
  if (o.positional.length !== 1) throw new Usage('tell needs PROJECT.');
  const { bytes, name } = readInput(o.positional[0]);
  const { document } = readProject(bytes, name);
  const only = o.values.piece;
  if (only !== undefined && !document.pieces.some((p) => p.name === only))
    throw new Usage(
      `There is no piece “${only}”; there are ${document.pieces.map((p) => p.name).join(', ') || 'none'}.`,
    );
  process.stdout.write(tellProject(document, only === undefined ? undefined : (p) => p.name === only));
  return 0;
}
