/**
 * Before the whole-application tests: a data folder with the demo in it, of which those that have an application to
 * themselves take a copy, and an application that all others share.
 */
import { startApp, type App } from './support';

/** The demo's pictures are drawn once here, and not by every application that the tests start. */
async function drawn(address: string): Promise<void> {
  const { projects } = (await (await fetch(`${address}/api/projects`)).json()) as {
    projects: { id: string; revision: number }[];
  };
  await Promise.all(projects.map((p) => fetch(`${address}/api/projects/${p.id}/thumbnail?r=${p.revision}`)));
}

declare global {
  /** What ends it all: that has a file of its own (`after.ts`), run in the same process. */
  var glyptaShared: { template: App; shared: App } | undefined;
}

export default async function before(): Promise<void> {
  const template = await startApp();
  await drawn(template.address);
  await template.end();
  process.env.GLYPTA_TEMPLATE = template.data;
  const shared = await startApp();
  process.env.GLYPTA_SHARED = shared.address;
  globalThis.glyptaShared = { template, shared };
}
