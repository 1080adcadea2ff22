import { unwrapMesh, uvFigures } from '../core/uv';
import { UV } from '../core/mesh';
import { readModel, writeModel } from './files';
import { numberOption, parseArgs, Usage } from './usage';

/** `unfold IN OUT [--seam-angle DEG] [--padding PX] [--size PX] [--stretch 1.3] [--islands N] [--hide 0..1] [--json]`: every piece gets a sheet of its own. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['seam-angle', 'padding', 'size', 'stretch', 'islands', 'hide'], ['json']);
  if (o.positional.length !== 2) throw new Usage('unfold needs IN and OUT.');
  const angle = numberOption(o, 'seam-angle', 60, 0, 180);
  const size = numberOption(o, 'size', 1024, 16, 16384);
  const padding = numberOption(o, 'padding', 8, 0, size / 4);
  const stretch = numberOption(o, 'stretch', 1.3, 0, 100);
  if (stretch !== 0 && stretch < 1.01) throw new Usage('--stretch is 0 (whatever comes) or from 1.01 on.');
  const islands = numberOption(o, 'islands', 0, 0, 1e6);
  const hide = numberOption(o, 'hide', 0.5, 0, 1);
  const scene = await readModel(o.positional[0]);
  const figures: Record<string, unknown>[] = [];
  for (const piece of scene.pieces) {
    if (!piece.mesh || piece.mesh.faceCount === 0) continue;
    const out = unwrapMesh(piece.mesh, {
      cut: new Set(),
      hold: new Set(),
      seamAngle: angle >= 180 ? Infinity : (angle * Math.PI) / 180,
      stretch,
      islands,
      hide,
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
