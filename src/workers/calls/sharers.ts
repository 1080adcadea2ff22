import { UV, uvSetCalled } from '../../core/mesh';
import { topologyOf } from '../../core/mesh/topology';
import type { SharedLayout } from '../../core/recipe/values';
import { shareOptions, sharerOf } from '../../core/steps';
import { bordersOf } from '../../core/uv/edits/sheet';
import { sharedSheet, type Sharer } from '../../core/uv/sharing';
import { followDocument } from '../../document/follow';
import { worldSize } from '../../document/placing';
import { sourceOf } from '../../document/tree';
import type { AtStep } from './afterStep';
import { defineCall } from './define';

/** The borders of the islands that other pieces have on a sheet that is shared: 4 numbers per side. */
export const sharers = defineCall(async (host, { piece, step }: AtStep, task): Promise<Float32Array> => {
  const { doc } = host;
  const own = doc.pieces.find((p) => p.id === piece)?.recipe.find((s) => s.id === step);
  const layouts = (own?.values.layouts ?? []) as readonly SharedLayout[];
  if (!own || layouts.length === 0) return new Float32Array(0);
  const followed = followDocument(doc, { memory: host.memory, blob: host.blob, cancelled: task.cancelled });
  const set = uvSetCalled(String(own.values.set ?? ''));
  const list: Sharer[] = [];
  for (const l of layouts) {
    const p = doc.pieces.find((x) => x.id === l.piece);
    const found = p && (await followed.piece(sourceOf(doc, p))).outcomes.find((o) => o.step === l.step);
    // What cannot be followed is told by the step itself.
    if (!found?.mesh.attributes[set]) return new Float32Array(0);
    list.push(sharerOf(found.mesh, set, worldSize(doc, l.piece)));
  }
  const sheet = sharedSheet(list, shareOptions(own.values));
  const out: number[] = [];
  layouts.forEach((l, i) => {
    if (l.own) return;
    const { mesh } = list[i];
    const uv = sheet.uv[i];
    const t = topologyOf(mesh);
    const borders = bordersOf(mesh, mesh.attributes[UV].data);
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        if (!borders[t.cornerEdge[c]]) continue;
        const n = c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1;
        out.push(uv[2 * c], uv[2 * c + 1], uv[2 * n], uv[2 * n + 1]);
      }
  });
  return Float32Array.from(out);
});
