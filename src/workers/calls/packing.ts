import { UV } from '../../core/mesh';
import { resolve } from '../../core/mesh/picks';
import type { ElementPick } from '../../core/mesh';
import { writeLayout } from '../../core/uv/layout';
import { packedLonger } from '../../core/uv/longer';
import { followDocument } from '../../document/follow';
import { defineCall } from './define';

interface PackingQuery {
  piece: string;
  /** The unwrap step whose layout is packed. */
  step: string;
}

/** So many islands are laid, at most: some minutes of it. */
const EFFORT = 400_000;
/** A better layout is told so many milliseconds after the last at the soonest. */
const EVERY = 400;

/**
 * A layout packed in better and better ways, until it is stopped: what is better is told at once, as a file to be kept.
 * The answer is the best there was; null where nothing better was found.
 */
export const packing = defineCall(async (host, { piece, step }: PackingQuery, task): Promise<Uint8Array | null> => {
  const found = host.doc.pieces.find((p) => p.id === piece);
  const at = found?.recipe.find((s) => s.id === step);
  if (!found || !at) throw new Error('The piece is no longer there.');
  const { outcomes } = await followDocument(host.doc, {
    memory: host.memory,
    blob: host.blob,
    cancelled: task.cancelled,
  }).piece(found);
  const outcome = outcomes.find((o) => o.step === step);
  if (!outcome || outcome.error) throw new Error(outcome?.error ?? 'The step is no longer there.');
  const { mesh } = outcome;
  const fileOf = (uv: Float32Array): Uint8Array =>
    writeLayout(mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }));
  const facesOf = (name: string): Set<number> => new Set(resolve(mesh, at.values[name] as ElementPick).indices);
  let told = 0;
  let waiting: { uv: Float32Array; fill: number } | null = null;
  const tell = (): void => {
    if (!waiting || performance.now() - told < EVERY) return;
    told = performance.now();
    const { uv, fill } = waiting;
    waiting = null;
    task.progress({ share: fill, layout: { uv, bytes: fileOf(uv) } });
  };
  const before = mesh.attributes[UV].data as Float32Array;
  const best = packedLonger(mesh, {
    size: Number(at.values.size) || 1024,
    padding: Number(at.values.padding) || 0,
    turn: at.values.turn !== false,
    locked: facesOf('locked'),
    upright: facesOf('upright'),
    effort: EFFORT,
    stop: () => {
      tell();
      return task.cancelled();
    },
    better: (uv, fill) => {
      waiting = { uv, fill };
      tell();
    },
  });
  return best === before ? null : fileOf(best);
});
