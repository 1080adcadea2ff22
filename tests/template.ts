/** Before the whole-application tests: a data folder with the demo in it, of which each of them takes a copy. */
import { rmSync } from 'node:fs';
import { startApp } from './support';

/** The demo's pictures are drawn once here, and not by every application that the tests start. */
async function drawn(address: string): Promise<void> {
  const { projects } = (await (await fetch(`${address}/api/projects`)).json()) as {
    projects: { id: string; revision: number }[];
  };
  await Promise.all(projects.map((p) => fetch(`${address}/api/projects/${p.id}/thumbnail?r=${p.revision}`)));
}

export default async function makeTemplate(): Promise<() => Promise<void>> {
  const app = await startApp();
  await drawn(app.address);
  await app.end();
  process.env.GLYPTA_TEMPLATE = app.data;
  return async () => rmSync(app.data, { recursive: true, force: true });
}
