import { UV } from '../../core/mesh';
import { writeLayout } from '../../core/uv/follow/layout';
import { afterStep, type AtStep } from './afterStep';
import { defineCall } from './define';

/** Whether a piece is laid out after one of its steps. */
export const laidOut = defineCall(
  async (host, at: AtStep, task): Promise<boolean> =>
    (await afterStep(host, at, task)).mesh.attributes[UV] !== undefined,
);

/** The layout of a piece as it is after one of its unwrap steps, as a file to be kept. */
export const layout = defineCall(async (host, at: AtStep, task): Promise<Uint8Array> => {
  const bytes = writeLayout((await afterStep(host, at, task)).mesh);
  task.transfer.push(bytes.buffer as ArrayBuffer);
  return bytes;
});
