import { unwrapMesh, uvFigures } from '../core/uv';
import { UV } from '../core/mesh';
import { readModel, writeModel } from './files';
import { numberOption, parseArgs, Usage } from './usage';

/** `unfold IN OUT [--seam-angle DEG] [--padding PX] [--size PX] [--json]`: every piece gets a sheet of its own. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['seam-angle', 'padding', 'size'], ['json']);
  if (o.positional.length !== 2) throw new Usage('unfold needs IN and OUT.');
  const angle = numberOption(o, 'seam-angle', 60, 0, 180);
  const size = numberOption(o, 'size', 1024, 16, 16384);
  const padding = numberOption(o, 'padding', 8, 0, size / 4);
  const scene = await readModel(o.positional[0]);
  const figures: Record<string, unknown>[] = [];
  for (const piece of scene.pieces) {
    if (!piece.mesh || piece.mesh.faceCount === 0) continue;
    const out = unwrapMesh(piece.mesh, {
      cut: new Set(),
      hold: new Set(),
      seamAngle: angle >= 180 ? Infinity : (angle * Math.PI) / 180,
      size,
      padding,
      density: 0,
      turn: true,
    });
    scene.pieces[scene.pieces.indexOf(piece)] = { ...piece, mesh: out.mesh };
    figures.push({
      piece: piece.name,
      ...uvFigures(out.mesh, out.mesh.attributes[UV].data),
      texelsPerMetre: out.density,
    });
  }
  for (const w of scene.warnings) console.error(w);
  await writeModel(scene, o.positional[1]);
  if (o.positional[1] !== '-') {
    if (o.flags.has('json')) console.log(JSON.stringify(figures, null, 2));
    else
      for (const f of figures)
        console.log(
          `${String(f.piece)}: ${String(f.islands)} islands, fill ${(100 * Number(f.coverage)).toFixed(1)} %, stretch ${Number(f.stretchMean).toFixed(3)} mean, ${Number(f.stretchMax).toFixed(3)} most`,
        );
  }
  return 0;
}
