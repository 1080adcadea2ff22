/** After the whole-application tests: what was made before them (`before.ts`) ends, and its data are removed. */
export default async function after(): Promise<void> {
  await Promise.all(Object.values(globalThis.glyptaShared ?? {}).map((app) => app.stop()));
}
