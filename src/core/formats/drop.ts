/**
 * What was dropped, sorted out: models with the files that belong to them, drawings and pictures that stand alone,
 * heights, and what nobody knows. Order does not matter, and neither does whether it came in a ZIP.
 */
import { addressesOf, librariesOf, picturesOf } from './companions';
import { kindByEnding, KINDS, kindTitles } from './kinds';
import { looksLikeHeights, pictureInfo, type PictureInfo } from './pictures';
import { FileError, safeName } from './scene';
import { readingError } from './words';
import { isZip, readZip } from './zip';

export type Files = Map<string, Uint8Array>;

export interface DropPlan {
  models: { name: string; bytes: Uint8Array; beside: Files }[];
  pictures: { name: string; bytes: Uint8Array; info: PictureInfo }[];
  heights: { name: string; bytes: Uint8Array }[];
  /** One sentence for each file that stays outside. */
  refused: string[];
}

const dependsOn = (bytes: Uint8Array): string =>
  new TextDecoder().decode(bytes.length > 1 << 22 ? bytes.subarray(0, 1 << 22) : bytes);

export function planDrop(files: readonly (readonly [string, Uint8Array])[]): DropPlan {
  const plan: DropPlan = { models: [], pictures: [], heights: [], refused: [] };
  const all: Files = new Map();
  for (const [path, bytes] of files) {
    const name = safeName(path);
    try {
      if (bytes.length === 0) throw new FileError(`${name} is empty.`);
      if (isZip(bytes) && !/\.3mf$/i.test(name)) {
        const inside = readZip(bytes, name);
        if ([...inside.keys()].some((n) => /\.model$/i.test(n))) {
          all.set(name, bytes);
          continue;
        }
        if (inside.size === 0) throw new FileError(`${name} is an empty ZIP.`);
        for (const [n, b] of inside) if (!all.has(n)) all.set(n, b);
      } else if (!all.has(name)) all.set(name, bytes);
    } catch (e) {
      plan.refused.push(readingError(e, name).message);
    }
  }
  const used = new Set<string>();
  const beside = (names: Iterable<string>) =>
    new Map(
      [...names].flatMap((n) => {
        const b = all.get(n);
        return b ? [[n, b] as const] : [];
      }),
    );
  const models = [...all].filter(([n, b]) => {
    const k = KINDS.find((x) => x.mark?.(b)) ?? kindByEnding(n);
    return k && k.kind !== 'svg';
  });
  for (const [name, bytes] of models) {
    used.add(name);
    const names = new Set<string>();
    const text = /\.obj$/i.test(name) ? dependsOn(bytes) : '';
    for (const library of librariesOf(text)) {
      const mtl = safeName(library);
      names.add(mtl);
      const b = all.get(mtl);
      if (b) for (const picture of picturesOf(dependsOn(b))) names.add(safeName(picture));
    }
    // glTF names what it needs in its own text, which may not be near its beginning.
    if (/\.gltf$/i.test(name)) for (const uri of addressesOf(new TextDecoder().decode(bytes))) names.add(safeName(uri));
    for (const n of names) if (all.has(n)) used.add(n);
    plan.models.push({ name, bytes, beside: beside(names) });
  }
  for (const [name, bytes] of all) {
    if (used.has(name)) continue;
    try {
      if (/\.(raw|r16)$/i.test(name)) {
        plan.heights.push({ name, bytes });
        continue;
      }
      const info = pictureInfo(bytes, name);
      if (info) {
        if (looksLikeHeights(info)) plan.heights.push({ name, bytes });
        else plan.pictures.push({ name, bytes, info });
        continue;
      }
      // Beside a model, files it does not ask for (notes, other maps) are left without a word.
      if (/\.(mtl|bin)$/i.test(name)) {
        if (plan.models.length === 0) throw new FileError(`${name} belongs to a model; drop the two together.`);
        continue;
      }
      if (/\.(png|jpe?g|webp|tiff?|pdf|svg)$/i.test(name))
        throw new FileError(`${name} is not a picture, whatever its name says.`);
      throw new FileError(
        `${name} is of no kind that can be read; ${kindTitles()}, pictures, drawings and ZIPs of them can.`,
      );
    } catch (e) {
      plan.refused.push(readingError(e, name).message);
    }
  }
  return plan;
}
