/** What the evaluator remembers. */
import type { Brightness } from '../formats/brightness';
import type { Scene } from '../formats/scene';
import { arraysOf } from '../geometry';
import type { ImageData8 } from '../mesh/mesh';
import { Witnesses } from '../mesh/witnesses';
import type { Kept } from './define';
import type { Lasting } from './lasting';

const OVERHEAD = 200;
/** A material shows five pictures at the most; of two materials all are at hand. */
const PICTURES = 10;
/** Unpacked, and the largest one in any case. */
const PIXEL_BYTES = 384 * 1024 * 1024;

/** What was read last, by name; what failed is read again when it is asked for again. */
function lastFew<T>(known: Map<string, Promise<T>>, key: string, read: () => Promise<T>, most = 3): Promise<T> {
  let p = known.get(key);
  if (!p) {
    p = read();
    p.catch(() => known.delete(key));
    known.set(key, p);
    if (known.size > most) known.delete(known.keys().next().value!);
  }
  return p;
}

/**
 * Results by hash, the least recently used forgotten first once they hold more than the budget. Arrays that several
 * results share (200 moves of one mesh share its connectivity) count once.
 */
export class Memory {
  private readonly map = new Map<string, { value: Kept; buffers: Set<ArrayBufferLike> }>();
  private readonly uses = new Map<ArrayBufferLike, number>();
  /** Where picked elements were, as long as this lives. */
  readonly witnesses = new Witnesses();
  private bytes = 0;
  constructor(
    private readonly budget = 768 * 1024 * 1024,
    /** For what is to outlive it. */
    readonly lasting?: Lasting,
  ) {}

  get(hash: string): Kept | undefined {
    const e = this.map.get(hash);
    if (!e) return undefined;
    this.map.delete(hash);
    this.map.set(hash, e);
    return e.value;
  }

  set(hash: string, value: Kept): void {
    this.forget(hash);
    const buffers = new Set(arraysOf(value.geometry).map((a) => a.buffer));
    for (const b of buffers) {
      const n = this.uses.get(b) ?? 0;
      if (n === 0) this.bytes += b.byteLength;
      this.uses.set(b, n + 1);
    }
    this.bytes += OVERHEAD + 8 * (value.geometry.mesh?.textures?.size ?? 0) ** 2;
    this.map.set(hash, { value, buffers });
    for (const h of this.map.keys()) {
      if (this.bytes <= this.budget || h === hash) break;
      this.forget(h);
    }
  }

  private forget(hash: string): void {
    const e = this.map.get(hash);
    if (!e) return;
    this.map.delete(hash);
    this.bytes -= OVERHEAD + 8 * (e.value.geometry.mesh?.textures?.size ?? 0) ** 2;
    for (const b of e.buffers) {
      const n = this.uses.get(b)! - 1;
      if (n > 0) this.uses.set(b, n);
      else {
        this.uses.delete(b);
        this.bytes -= b.byteLength;
      }
    }
  }

  /** The last few scenes read from stored files: the pieces of one file come from one reading. */
  private readonly scenes = new Map<string, Promise<Scene>>();
  scene(key: string, read: () => Promise<Scene>): Promise<Scene> {
    return lastFew(this.scenes, key, read);
  }

  /** The last few pictures that formulas went by. */
  private readonly pictures = new Map<string, Promise<Brightness>>();
  picture(sha: string, read: () => Promise<Brightness>): Promise<Brightness> {
    return lastFew(this.pictures, sha, read);
  }

  /** The last few pictures of materials, for steps that draw them anew. */
  private readonly pixels = new Map<string, Promise<ImageData8>>();
  private readonly pixelBytes = new Map<string, number>();
  async pixelsOf(sha: string, read: () => Promise<ImageData8>): Promise<ImageData8> {
    const image = await lastFew(this.pixels, sha, read, PICTURES);
    this.pixelBytes.set(sha, image.data.length);
    let held = 0;
    for (const name of [...this.pixels.keys()].reverse()) {
      held += this.pixelBytes.get(name) ?? 0;
      if (held > PIXEL_BYTES && name !== sha) this.pixels.delete(name);
    }
    for (const name of this.pixelBytes.keys()) if (!this.pixels.has(name)) this.pixelBytes.delete(name);
    return image;
  }

  /** Results held. */
  get size(): number {
    return this.map.size;
  }
  /** Bytes held, as far as they are known when a result comes in: keys that are worked out later are not counted. */
  get held(): number {
    return this.bytes;
  }
}
