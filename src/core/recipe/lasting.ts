/** What took long is kept beyond the session, so that a project opens as fast as it was left. */

/** Where that is kept; nowhere but in a browser. */
export interface Lasting {
  /** What was kept under a name; undefined where nothing was, or it cannot be had. */
  get(name: string): Promise<Uint8Array | undefined>;
  put(name: string, bytes: Uint8Array): void;
}

/** Work whose result is told by a name of all that it depends on. */
export interface LastingWork<T> {
  name(): string;
  work(): T;
  write(made: T): Uint8Array;
  /** Undefined where the bytes are of no use. */
  read(bytes: Uint8Array): T | undefined;
}

/** Sooner done again than kept, ms. */
const LONG = 250;

/** What was kept of such work, or else the work itself; kept where it took long. */
export async function lasting<T>(kept: Lasting | undefined, o: LastingWork<T>): Promise<T> {
  if (!kept) return o.work();
  const name = o.name();
  const bytes = await kept.get(name);
  const had = bytes && o.read(bytes);
  if (had !== undefined) return had;
  const begun = performance.now();
  const made = o.work();
  if (performance.now() - begun >= LONG) kept.put(name, o.write(made));
  return made;
}
