/** MTL, both ways: materials of OBJ, with the names that carry roughness, metalness and glow. */
import type { MapName } from '../../material';
import { withoutOptions } from '../companions';
import { fromHex, safeName, toHex, type Scene, type SceneImage, type SceneMaterial } from '../scene';
import { joinSurface, splitSurface, type SplitSurface } from './surface';

export function readMtl(bytes: Uint8Array, scene: Scene, beside?: ReadonlyMap<string, Uint8Array>): SceneMaterial[] {
  const out: SceneMaterial[] = [];
  let m: SceneMaterial | undefined;
  const bytesOf = (name: string): Uint8Array | undefined => {
    const data = beside?.get(name);
    if (data) return data;
    (scene.missing ??= []).push(name);
    scene.warnings.push(`The picture ${name} was not with the file. Its material keeps its plain colour.`);
    return undefined;
  };
  const image = (rest: string) => {
    const name = safeName(withoutOptions(rest));
    const data = bytesOf(name);
    if (!data) return undefined;
    const had = scene.images.findIndex((i) => i.name === name);
    if (had >= 0) return had;
    const mime = ({ 0xff: 'image/jpeg', 0x52: 'image/webp' } as const)[data[0]] ?? 'image/png';
    return scene.images.push({ name, mime, bytes: data }) - 1;
  };
  const left = new Set<string>();
  const surfaces = new Map<SceneMaterial, { roughness?: string; metalness?: string }>();
  /** Said in so many words, which goes before what a sharpness suggests. */
  const rough = new Set<SceneMaterial>();
  /** Some files give the share that is seen through as its opposite: where both are there, opacity counts. */
  const opaque = new Set<SceneMaterial>();
  for (const line of new TextDecoder().decode(bytes).split(/\r?\n/)) {
    const text = line.trim();
    if (text === '' || text[0] === '#') continue;
    const end = text.search(/\s/);
    const word = end < 0 ? text : text.slice(0, end);
    const rest = end < 0 ? '' : text.slice(end).trim();
    if (word === 'newmtl') {
      m = { id: rest || 'unnamed', name: rest || 'unnamed', color: [0.8, 0.8, 0.8, 1], roughness: 0.7, metalness: 0 };
      out.push(m);
      continue;
    }
    if (!m) continue;
    const numbers = rest.split(/\s+/).map(Number);
    const unit = (x: number, otherwise: number) => (Number.isFinite(x) ? Math.min(1, Math.max(0, x)) : otherwise);
    if (word === 'Kd') m.color = [unit(numbers[0], 0.8), unit(numbers[1], 0.8), unit(numbers[2], 0.8), m.color[3]];
    else if (word === 'd') {
      m.color = [m.color[0], m.color[1], m.color[2], unit(numbers[0], 1)];
      opaque.add(m);
    } else if (word === 'Tr' && !opaque.has(m)) m.color = [m.color[0], m.color[1], m.color[2], 1 - unit(numbers[0], 0)];
    else if (word === 'Pr') {
      m.roughness = unit(numbers[0], 0.7);
      rough.add(m);
    } else if (word === 'Pm') m.metalness = unit(numbers[0], 0);
    else if (word === 'Ns' && !rough.has(m)) m.roughness = roughnessOf(numbers[0]);
    else if (word === 'Ke') {
      const most = Math.max(...numbers.slice(0, 3).map((x) => (x > 0 && x < 1e6 ? x : 0)));
      if (most > 0) m.glow = toHex(numbers.map((x) => unit(x / Math.max(1, most), 0)));
      if (most > 1) m.glowStrength = most;
    } else if (word in MTL_MAPS) {
      const at = image(rest);
      if (at !== undefined) m.maps = { ...m.maps, [MTL_MAPS[word]]: at };
      if (word === 'map_Ke') m.glow ??= '#ffffff';
    } else if (word === 'map_Pr' || word === 'map_Pm') {
      const name = safeName(withoutOptions(rest));
      surfaces.set(m, { ...surfaces.get(m), [word === 'map_Pr' ? 'roughness' : 'metalness']: name });
    } else if (word === 'Ks' && numbers.slice(0, 3).some((x) => x > 0)) left.add(word);
    else if (/^(map_|bump|norm|disp|decal|refl)/i.test(word)) left.add(word);
  }
  for (const [of, { roughness, metalness }] of surfaces) {
    const [rough, metal] = [roughness, metalness].map((name) => (name ? bytesOf(name) : undefined));
    if (!rough && !metal) continue;
    const bytes = joinSurface(rough, metal, of);
    if (bytes)
      of.maps = {
        ...of.maps,
        surface: scene.images.push({ name: `${of.name} surface.png`, mime: 'image/png', bytes }) - 1,
      };
    else
      scene.warnings.push(
        'Pictures of roughness and metalness are taken as PNG of at most 4096 × 4096 pixels; those of ' +
          `${of.name} are not kept.`,
      );
  }
  if (left.delete('Ks'))
    scene.warnings.push('Colours of highlights (Ks) are not kept: roughness and metalness say it.');
  if (left.size) scene.warnings.push(`Pictures of ${[...left].join(', ')} are not kept yet; colours are.`);
  return out;
}

const surfaceLines = (split: SplitSurface | undefined): string[] =>
  split ? [`map_Pr ${split.roughness.name}`, `map_Pm ${split.metalness.name}`] : [];

/**
 * The exponent of a highlight and roughness (Walter, Marschner, Li, Torrance 2007: α = √(2 / (n + 2)), α the square of
 * roughness).
 */
const roughnessOf = (sharpness: number): number => (sharpness >= 0 ? Math.min(1, (2 / (sharpness + 2)) ** 0.25) : 0.7);
const sharpnessOf = (roughness: number): number => Math.min(1000, Math.max(0, 2 / Math.max(1e-3, roughness ** 4) - 2));

/** Pictures, and what they are of. */
const MTL_MAPS: Readonly<Record<string, MapName>> = {
  map_Kd: 'color',
  map_Ke: 'glow',
  norm: 'normal',
};

/** What goes beside an MTL: its pictures, those of surfaces taken apart into roughness and metalness. */
export function picturesOfMtl(scene: Scene): { images: SceneImage[]; split: ReadonlyMap<number, SplitSurface> } {
  const split = new Map<number, SplitSurface>();
  const whole = new Set<number>();
  for (const { maps } of scene.materials) {
    const at = maps?.surface;
    const parts = at === undefined || split.has(at) ? undefined : splitSurface(scene.images[at]);
    if (parts) split.set(at!, parts);
    for (const [name, i] of Object.entries(maps ?? {})) if (name !== 'surface') whole.add(i);
  }
  const images = scene.images.flatMap((image, i) => {
    const parts = split.get(i);
    return parts ? [...(whole.has(i) ? [image] : []), parts.roughness, parts.metalness] : [image];
  });
  return { images, split };
}

export function writeMtl(scene: Scene, names: Map<string, string>, split: ReadonlyMap<number, SplitSurface>): string {
  const n = (x: number) => String(Math.round(x * 1e6) / 1e6);
  return scene.materials
    .map((m) =>
      [
        `newmtl ${names.get(m.id)}`,
        `Kd ${n(m.color[0])} ${n(m.color[1])} ${n(m.color[2])}`,
        `d ${n(m.color[3])}`,
        `Ns ${n(sharpnessOf(m.roughness))}`,
        `Pr ${n(m.roughness)}`,
        `Pm ${n(m.metalness)}`,
        ...(m.glow
          ? [
              `Ke ${fromHex(m.glow)
                .map((x) => n(x * (m.glowStrength ?? 1)))
                .join(' ')}`,
            ]
          : []),
        ...Object.entries(MTL_MAPS).flatMap(([word, map]) => {
          const at = m.maps?.[map];
          return at === undefined ? [] : [`${word} ${safeName(scene.images[at].name)}`];
        }),
        ...surfaceLines(split.get(m.maps?.surface ?? -1)),
        '',
      ].join('\n'),
    )
    .join('\n');
}
