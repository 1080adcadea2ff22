import { relaxedLive, type RelaxedLive } from '../../core/uv/edits/relaxlive';
import { afterStep, type AtStep } from './afterStep';
import { defineCall } from './define';

/** Rounds at most: by then nothing is gained any more. */
const ROUNDS = 20_000;
/** What came of it is told so many milliseconds after the last at the soonest. */
const EVERY = 120;

export interface RelaxingQuery extends AtStep {
  /** Of the islands that are relaxed, by number. */
  faces: readonly number[];
  /** Vertices that stay where they are on these islands. */
  held: readonly number[];
  /** Faces that alone may move. */
  only?: readonly number[];
  border: boolean;
  lengths: number;
}

/**
 * Islands of an unwrap step's layout relaxed until that is stopped, each stage told. Null where nothing was relaxed.
 */
export const relaxing = defineCall(async (host, query: RelaxingQuery, task): Promise<RelaxedLive | null> => {
  const { mesh } = await afterStep(host, query, task);
  const faces = query.faces.filter((f) => f < mesh.faceCount);
  const held = new Set(query.held);
  const corners: number[] = [];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (held.has(mesh.cornerVertex[c])) corners.push(c);
  let told = 0;
  const found = relaxedLive(mesh, {
    ...query,
    faces,
    held: corners,
    rounds: ROUNDS,
    stop: task.cancelled,
    better: (now, mean, round) => {
      if (performance.now() - told < EVERY) return;
      told = performance.now();
      task.progress({ share: 0, relaxed: { uv: now, mean, round } });
    },
  });
  return found.rounds > 0 ? found : null;
});
