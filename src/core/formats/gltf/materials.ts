/**
 * Materials of glTF and ours. Their UVs run from the top, ours from the bottom; their colours are linear, ours sRGB.
 */
import type { Document, Material, Texture, TextureInfo } from '@gltf-transform/core';
import {
  KHRMaterialsEmissiveStrength,
  KHRMaterialsUnlit,
  KHRTextureTransform,
  type EmissiveStrength,
  type Transform,
} from '@gltf-transform/extensions';
import { MAPS, type Laid, type MapName, type Maps } from '../../material';
import { toLinear, toSrgb } from '../../math/colour';
import { fromHex, toHex, type SceneMaterial } from '../scene';

interface Slot {
  texture: Texture | null;
  info: TextureInfo | null;
}

const slotOf: { readonly [K in MapName]: (m: Material) => Slot } = {
  color: (m) => ({ texture: m.getBaseColorTexture(), info: m.getBaseColorTextureInfo() }),
  surface: (m) => ({ texture: m.getMetallicRoughnessTexture(), info: m.getMetallicRoughnessTextureInfo() }),
  normal: (m) => ({ texture: m.getNormalTexture(), info: m.getNormalTextureInfo() }),
  shade: (m) => ({ texture: m.getOcclusionTexture(), info: m.getOcclusionTextureInfo() }),
  glow: (m) => ({ texture: m.getEmissiveTexture(), info: m.getEmissiveTextureInfo() }),
};
const put: { readonly [K in MapName]: (m: Material, t: Texture) => unknown } = {
  color: (m, t) => m.setBaseColorTexture(t),
  surface: (m, t) => m.setMetallicRoughnessTexture(t),
  normal: (m, t) => m.setNormalTexture(t),
  shade: (m, t) => m.setOcclusionTexture(t),
  glow: (m, t) => m.setEmissiveTexture(t),
};
const STRENGTH: { readonly [K in MapName]?: [(m: Material) => number, (m: Material, x: number) => unknown] } = {
  normal: [(m) => m.getNormalScale(), (m, x) => m.setNormalScale(x)],
  shade: [(m) => m.getOcclusionStrength(), (m, x) => m.setOcclusionStrength(x)],
};

/** A map of UVs seen from the other side: it does the same where v runs the other way. */
function seenFromBelow(shift: readonly number[], turn: number, size: readonly number[], back: boolean): Laid {
  // Where the lower left corner of one goes, which is the upper left of the other.
  const s = back ? -turn : turn;
  const u = shift[0] + Math.sin(s) * size[1];
  const v = 1 - (shift[1] + Math.cos(s) * size[1]);
  return { shift: [u, v], turn, size: [size[0], size[1]] };
}

function laidFrom(info: TextureInfo | null): Laid {
  const out: Laid = {};
  if (!info) return out;
  const t = info.getExtension<Transform>(KHRTextureTransform.EXTENSION_NAME);
  const set = t?.getTexCoord() ?? info.getTexCoord();
  if (set > 0) out.set = set;
  if (t) Object.assign(out, seenFromBelow(t.getOffset(), t.getRotation(), t.getScale(), false));
  return out;
}

/** `image`: the number of a texture's picture. */
export function materialFrom(m: Material, id: string, image: (t: Texture) => number | undefined): SceneMaterial {
  const c = m.getBaseColorFactor();
  const maps: Maps<number> = {};
  const laid: Maps<Laid> = {};
  for (const name of MAPS) {
    const { texture, info } = slotOf[name](m);
    const at = texture ? image(texture) : undefined;
    if (at === undefined) continue;
    maps[name] = at;
    const own = laidFrom(info);
    const strength = STRENGTH[name]?.[0](m) ?? 1;
    if (strength !== 1) own.strength = strength;
    if (Object.keys(own).length) laid[name] = own;
  }
  const mode = m.getAlphaMode();
  const plain = mode === 'OPAQUE';
  const out: SceneMaterial = {
    id,
    name: m.getName() || id,
    color: [toSrgb(c[0]), toSrgb(c[1]), toSrgb(c[2]), plain ? 1 : c[3]],
    roughness: m.getRoughnessFactor(),
    metalness: m.getMetallicFactor(),
  };
  const factors = [
    ...(maps.color === undefined ? [] : c.slice(0, plain ? 3 : 4)),
    ...(maps.surface === undefined ? [] : [out.roughness, out.metalness]),
  ];
  if (factors.some((x) => x !== 1)) out.tinted = true;
  if (Object.keys(maps).length) out.maps = maps;
  if (Object.keys(laid).length) out.laid = laid;
  if (mode === 'BLEND') out.seeThrough = true;
  if (mode === 'MASK' && m.getAlphaCutoff() > 0) out.cut = m.getAlphaCutoff();
  const glow = m.getEmissiveFactor();
  if (glow.some((x) => x > 0)) out.glow = toHex(glow.map(toSrgb));
  else delete maps.glow; // nothing times the picture is nothing
  const strength = m.getExtension<EmissiveStrength>(KHRMaterialsEmissiveStrength.EXTENSION_NAME)?.getEmissiveStrength();
  if (out.glow && strength !== undefined && strength !== 1) out.glowStrength = strength;
  if (m.getDoubleSided()) out.bothSides = true;
  if (m.getExtension(KHRMaterialsUnlit.EXTENSION_NAME)) out.unlit = true;
  return out;
}

const sets = (laid: Laid): boolean => !!(laid.shift || laid.turn || laid.size);

export function materialTo(doc: Document, m: SceneMaterial, textures: readonly Texture[]): Material {
  const [r, g, b] = [0, 1, 2].map((k) => toLinear(m.color[k]));
  const out = doc.createMaterial(m.name);
  const bare = (name: MapName) => m.maps?.[name] === undefined || m.tinted;
  out.setBaseColorFactor(bare('color') ? [r, g, b, m.color[3]] : [1, 1, 1, m.color[3]]);
  out.setRoughnessFactor(bare('surface') ? m.roughness : 1).setMetallicFactor(bare('surface') ? m.metalness : 1);
  if (m.cut) out.setAlphaMode('MASK').setAlphaCutoff(m.cut);
  else if (m.seeThrough || m.color[3] < 1) out.setAlphaMode('BLEND');
  if (m.glow && m.glow !== '#000000') {
    const [x, y, z] = fromHex(m.glow).map(toLinear);
    out.setEmissiveFactor([x, y, z]);
    if (m.glowStrength !== undefined && m.glowStrength !== 1)
      out.setExtension(
        KHRMaterialsEmissiveStrength.EXTENSION_NAME,
        doc.createExtension(KHRMaterialsEmissiveStrength).createEmissiveStrength().setEmissiveStrength(m.glowStrength),
      );
  }
  if (m.bothSides) out.setDoubleSided(true);
  if (m.unlit) out.setExtension(KHRMaterialsUnlit.EXTENSION_NAME, doc.createExtension(KHRMaterialsUnlit).createUnlit());
  for (const name of MAPS) {
    const at = m.maps?.[name];
    if (at === undefined || !textures[at]) continue;
    put[name](out, textures[at]);
    const laid = m.laid?.[name];
    if (!laid) continue;
    const info = slotOf[name](out).info!;
    if (laid.set) info.setTexCoord(laid.set);
    if (laid.strength !== undefined) STRENGTH[name]?.[1](out, laid.strength);
    if (!sets(laid)) continue;
    const { shift, turn, size } = seenFromBelow(laid.shift ?? [0, 0], laid.turn ?? 0, laid.size ?? [1, 1], true);
    const transform = doc.createExtension(KHRTextureTransform).createTransform();
    transform
      .setOffset([...shift!])
      .setRotation(turn!)
      .setScale([...size!]);
    info.setExtension(KHRTextureTransform.EXTENSION_NAME, transform);
  }
  return out;
}
