import { UV } from '../../core/mesh';
import { writeLayout } from '../../core/uv/follow/layout';
import { TOGETHER } from '../../core/uv/pack/groups';
import { packedLonger } from '../../core/uv/pack/longer';
import { partOf } from '../../core/uv/pack/sheets';
import { afterStep, type AtStep } from './afterStep';
import { defineCall } from './define';

/** So many islands are laid, at most: some minutes of it. */
const EFFORT = 400_000;
/** A better layout is told so many milliseconds after the last at the soonest. */
const EVERY = 400;

/**
 * The layout of an unwrap step packed in better and better ways, until it is stopped: what is better is told at once,
 * as a file to be kept. The answer is the best there was; null where nothing better was found.
 */
export const packing = defineCall(async (host, at: AtStep, task): Promise<Uint8Array | null> => {
  const {
    mesh,
    step: { values },
    picked,
  } = await afterStep(host, at, task);
  const fileOf = (uv: Float32Array): Uint8Array =>
    writeLayout(mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }));
  let told = 0;
  let waiting: { uv: Float32Array; fill: number } | null = null;
  const tell = (): void => {
    if (!waiting || performance.now() - told < EVERY) return;
    told = performance.now();
    const { uv, fill } = waiting;
    waiting = null;
    task.progress({ share: fill, layout: { uv, bytes: fileOf(uv) } });
  };
  const best = packedLonger(mesh, {
    size: Number(values.size) || 1024,
    padding: Number(values.padding) || 0,
    turn: values.turn !== false,
    part: partOf(values),
    together: TOGETHER.find((by) => by === values.together),
    locked: picked('locked'),
    upright: picked('upright'),
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
  return best === mesh.attributes[UV].data ? null : fileOf(best);
});
