/** Spots as text, in the order of what they are of. */
import type { Spot } from './spots';

/** Spots as text: 32-bit floats, the role as a whole number, in base 64. */
export function packSpots(spots: readonly Spot[]): string {
  const size = spots[0]?.length ?? 0;
  const view = new DataView(new ArrayBuffer(4 * size * spots.length));
  spots.forEach((s, i) => {
    for (let k = 0; k < size - 1; k++) view.setFloat32(4 * (size * i + k), s[k], true);
    view.setUint32(4 * (size * i + size - 1), s[size - 1], true);
  });
  let text = '';
  for (let i = 0; i < view.byteLength; i++) text += String.fromCharCode(view.getUint8(i));
  return btoa(text);
}

/** Spots by the keys or names they were packed in the order of; null where the text is not of so many. */
export function unpackSpots(names: readonly number[], size: number, packed: string): Map<number, Spot> | null {
  let text: string;
  try {
    text = atob(packed);
  } catch {
    return null;
  }
  if (text.length !== 4 * size * names.length) return null;
  const view = new DataView(Uint8Array.from(text, (c) => c.charCodeAt(0)).buffer);
  const out = new Map<number, Spot>();
  names.forEach((name, i) => {
    const spot = new Float64Array(size);
    for (let k = 0; k < size - 1; k++) spot[k] = view.getFloat32(4 * (size * i + k), true);
    spot[size - 1] = view.getUint32(4 * (size * i + size - 1), true);
    if (spot.every(Number.isFinite)) out.set(name, spot);
  });
  return out;
}
