/** Before the whole-application tests: a data folder with the demo in it, of which each of them takes a copy. */
import { rmSync } from 'node:fs';
import { startApp } from './support';

export default async function makeTemplate(): Promise<() => Promise<void>> {
  const app = await startApp();
  await app.end();
  process.env.GLYPTA_TEMPLATE = app.data;
  return async () => rmSync(app.data, { recursive: true, force: true });
}
