/**
 * Materials and pictures of the view: clay, checker, the project's own materials; all coloured by the theme's tokens.
 */
import * as THREE from 'three';
import type { Laid, MapName } from '../../../core/material';
import type { Material, ProjectImage } from '../../../document/types';
import type { TextureImages } from '../../../workers/protocol';
import { token } from '../../parts/theme';
import { checkerCanvas } from '../testpictures';

export const color = (name: string): THREE.Color => new THREE.Color(token(name) || '#888888');

const offset = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1, side: THREE.DoubleSide } as const;

/** Soapstone: plain diffuse light, the cheapest shader there is. */
export const clay = (): THREE.MeshLambertMaterial => new THREE.MeshLambertMaterial({ color: color('clay'), ...offset });

const physical = (): THREE.MeshStandardMaterial =>
  new THREE.MeshStandardMaterial({ color: color('clay'), roughness: 0.92, metalness: 0, ...offset });

const pictures = new Map<string, THREE.Texture>();
/** A stored picture as a texture; the same file is loaded once. */
export function stored(sha: string, srgb: boolean, loaded: () => void): THREE.Texture {
  const key = `${sha}/${srgb}`;
  const had = pictures.get(key);
  if (had) return had;
  const t = new THREE.TextureLoader().load(`/api/blobs/${sha}`, loaded, undefined, loaded);
  t.colorSpace = srgb ? THREE.SRGBColorSpace : THREE.NoColorSpace;
  t.wrapS = t.wrapT = THREE.RepeatWrapping;
  t.anisotropy = 4;
  pictures.set(key, t);
  return t;
}

/** A stored picture as it lies on the UVs. One that is moved there is a copy, which shares its pixels. */
function laidOut(t: THREE.Texture, laid: Laid | undefined): THREE.Texture {
  if (!laid || !(laid.set || laid.shift || laid.turn || laid.size)) return t;
  const out = t.clone();
  if (laid.set === 1) out.channel = 1;
  const [x, y] = laid.shift ?? [0, 0];
  const [w, h] = laid.size ?? [1, 1];
  const [c, s] = [Math.cos(laid.turn ?? 0), Math.sin(laid.turn ?? 0)];
  out.matrixAutoUpdate = false;
  out.matrix.set(c * w, -s * h, x, s * w, c * h, y, 0, 0, 1);
  return out;
}

/** Of what has no material, but colours of its own. */
export const BARE: Material = { id: '', name: '', color: '#ffffff', roughness: 0.9, metalness: 0 };

/** A material of the project, with its pictures where `images` holds them. */
export function ofMaterial(
  m: Material | undefined,
  images: readonly ProjectImage[] = [],
  loaded: () => void = () => undefined,
  ownColours = false,
): THREE.MeshStandardMaterial | THREE.MeshBasicMaterial {
  const out = physical();
  out.vertexColors = ownColours;
  if (!m) return out;
  const picture = (name: MapName): THREE.Texture | null => {
    const blob = images.find((i) => i.id === m.maps?.[name])?.blob;
    return blob ? laidOut(stored(blob, name === 'color' || name === 'glow', loaded), m.laid?.[name]) : null;
  };
  out.map = picture('color');
  out.color.set(out.map && !m.tinted ? '#ffffff' : m.color);
  out.roughnessMap = out.metalnessMap = picture('surface');
  out.roughness = out.roughnessMap && !m.tinted ? 1 : m.roughness;
  out.metalness = out.roughnessMap && !m.tinted ? 1 : m.metalness;
  seeThrough(out, m);
  if (m.unlit) {
    const flat = new THREE.MeshBasicMaterial({ color: out.color, map: out.map, vertexColors: ownColours, ...offset });
    seeThrough(flat, m);
    return flat;
  }
  out.normalMap = picture('normal');
  out.normalScale.setScalar(m.laid?.normal?.strength ?? 1);
  out.aoMap = picture('shade');
  out.aoMapIntensity = m.laid?.shade?.strength ?? 1;
  out.emissive.set(m.glow ?? '#000000');
  out.emissiveMap = picture('glow');
  out.emissiveIntensity = m.glowStrength ?? 1;
  return out;
}

function seeThrough(out: THREE.Material, m: Material): void {
  out.opacity = m.opacity ?? 1;
  out.alphaTest = m.cut ?? 0;
  out.transparent = !m.cut && (m.seeThrough === true || out.opacity < 1);
}

export function ofTexture(t: TextureImages): THREE.MeshStandardMaterial | THREE.MeshBasicMaterial {
  const picture = (data: Uint8Array, srgb: boolean) => {
    // Uploaded top row first; the model's UVs run from the bottom.
    const flipped = new Uint8Array(data.length);
    const row = 4 * t.width;
    for (let y = 0; y < t.height; y++) flipped.set(data.subarray(y * row, (y + 1) * row), (t.height - 1 - y) * row);
    const p = new THREE.DataTexture(flipped, t.width, t.height, THREE.RGBAFormat);
    // The UVs go on from sheet to sheet.
    p.repeat.set(1 / t.sheets, 1);
    p.colorSpace = srgb ? THREE.SRGBColorSpace : THREE.NoColorSpace;
    p.magFilter = THREE.LinearFilter;
    p.minFilter = THREE.LinearMipmapLinearFilter;
    p.generateMipmaps = true;
    p.anisotropy = 4;
    p.needsUpdate = true;
    return p;
  };
  const out = physical();
  out.color.set('#ffffff');
  const shown = (name: MapName) => {
    const data = t.pictures[name];
    return data ? picture(data, name === 'color' || name === 'glow') : null;
  };
  out.map = shown('color');
  const asMaterial = { ...BARE, ...t.look };
  seeThrough(out, asMaterial);
  if (t.look.unlit) {
    const flat = new THREE.MeshBasicMaterial({ map: out.map, ...offset });
    seeThrough(flat, asMaterial);
    return flat;
  }
  out.roughnessMap = out.metalnessMap = shown('surface');
  out.roughness = 1;
  out.metalness = 1;
  out.normalMap = shown('normal');
  out.aoMap = shown('shade');
  out.emissiveMap = shown('glow');
  out.emissive.set(t.look.glow ?? '#000000');
  out.emissiveIntensity = t.look.glowStrength ?? 1;
  return out;
}

let checkerPicture: THREE.CanvasTexture | undefined;
/** Our checker, all over the UVs. */
export function checker(): THREE.MeshLambertMaterial {
  if (!checkerPicture) {
    checkerPicture = new THREE.CanvasTexture(checkerCanvas());
    checkerPicture.colorSpace = THREE.SRGBColorSpace;
    checkerPicture.wrapS = checkerPicture.wrapT = THREE.RepeatWrapping;
    checkerPicture.anisotropy = 4;
  }
  const out = clay();
  out.color.set('#ffffff');
  out.map = checkerPicture;
  return out;
}
