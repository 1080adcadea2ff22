/**
 * GLB and glTF (2.0), read through gltf-transform: pieces in their tree, all scenes, materials, pictures; what cannot
 * be kept is told.
 */
import type { Document, Material, Node, PlatformIO } from '@gltf-transform/core';
import { EXTMeshGPUInstancing, KHRLightsPunctual, type InstancedMesh } from '@gltf-transform/extensions';
import { fromMatrix4, IDENTITY, type Affine } from '../../math/affine';
import type { Mesh } from '../../mesh/mesh';
import { emptyScene, FileError, safeName, type Scene } from '../scene';
import { readingError } from '../words';
import { checkGltf, jsonOf } from './check';
import { KNOWN_EXTENSIONS, reader } from './io';
import { joinPrimitives } from './join';
import { materialFrom } from './materials';

type Json = Parameters<PlatformIO['readJSON']>[0]['json'];

const MOST_COPIES = 10_000;
const usedBy = (json: object): string[] => {
  const used = (json as { extensionsUsed?: unknown }).extensionsUsed;
  return Array.isArray(used) ? used.filter((x): x is string => typeof x === 'string') : [];
};

export async function readGlb(bytes: Uint8Array, fileName = 'file.glb'): Promise<Scene> {
  const name = safeName(fileName);
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67) throw new FileError(`${name} is not a GLB.`);
  if (view.getUint32(8, true) > bytes.length)
    throw new FileError(
      `${name} is cut short: it should have ${view.getUint32(8, true)} bytes and has ${bytes.length}.`,
    );
  let doc: Document;
  let used: string[];
  try {
    const json = jsonOf(bytes.subarray(20, 20 + view.getUint32(12, true)), name);
    checkGltf(json, bytes.length, name);
    used = usedBy(json);
    doc = await (await reader(used)).readBinary(bytes as Uint8Array<ArrayBuffer>);
  } catch (e) {
    throw readingError(e, name);
  }
  return sceneOf(doc, name, used);
}

/** glTF as JSON, with its buffers and pictures beside it, by name. */
export async function readGltf(
  bytes: Uint8Array,
  fileName: string,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
): Promise<Scene> {
  const name = safeName(fileName);
  const json = jsonOf(bytes, name) as unknown as Json;
  if (typeof json !== 'object' || json === null || typeof json.asset?.version !== 'string')
    throw new FileError(`${name} is not a glTF: it does not say its version.`);
  let size = bytes.length;
  for (const b of beside.values()) size += b.length;
  checkGltf(json, size, name);
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  const missing: string[] = [];
  const lost: string[] = [];
  const take = (uri: string | undefined, needed: boolean) => {
    if (!uri || uri.startsWith('data:')) return;
    const data = beside.get(safeName(safeUri(uri)));
    if (data) resources[uri] = data as Uint8Array<ArrayBuffer>;
    else {
      missing.push(safeName(safeUri(uri)));
      if (needed) lost.push(safeName(safeUri(uri)));
      else resources[uri] = new Uint8Array(0);
    }
  };
  for (const b of json.buffers ?? []) take(b.uri, true);
  for (const i of json.images ?? []) take(i.uri, false);
  if (lost.length)
    throw new FileError(
      `${name} needs ${lost.join(' and ')}, which ${lost.length === 1 ? 'was' : 'were'} not with it. Drop them ` +
        'together.',
    );
  let doc: Document;
  try {
    doc = await (await reader(usedBy(json))).readJSON({ json, resources });
  } catch (e) {
    throw readingError(e, name);
  }
  const scene = sceneOf(doc, name, usedBy(json));
  for (const m of missing)
    scene.warnings.push(`The picture ${m} was not with ${name}. Its material keeps its plain colour.`);
  if (missing.length) {
    scene.missing = missing;
    // Pictures that did not come hold nothing: materials do without them.
    for (const m of scene.materials)
      for (const [map, at] of Object.entries(m.maps ?? {}))
        if (scene.images[at].bytes.length === 0) delete m.maps![map as 'color'];
  }
  return scene;
}

const safeUri = (uri: string): string => {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
};

class Reading {
  readonly scene = emptyScene();
  private readonly meshes = new Map<unknown, Mesh>();
  private readonly ids: Map<Material, string>;
  private readonly walked = new Set<Node>();
  private readonly said = new Set<string>();

  constructor(
    private readonly doc: Document,
    private readonly name: string,
  ) {
    const root = doc.getRoot();
    const { scene } = this;
    scene.scale = { unit: 1, up: 'y' };
    const images = new Map(root.listTextures().map((t, i) => [t, i]));
    for (const [t, i] of images)
      scene.images.push({
        name: safeName(t.getName() || t.getURI(), `picture ${i + 1}`),
        mime: (t.getMimeType() || 'image/png') as 'image/png',
        bytes: t.getImage() ?? new Uint8Array(0),
      });
    this.ids = new Map(root.listMaterials().map((m, i) => [m, `material ${i + 1}`]));
    for (const [m, id] of this.ids) scene.materials.push(materialFrom(m, id, (t) => images.get(t)));
  }

  private warn(text: string): void {
    if (this.said.has(text)) return;
    this.said.add(text);
    this.scene.warnings.push(text);
  }

  private meshOf(node: Node): Mesh | undefined {
    const mesh = node.getMesh();
    if (!mesh) return undefined;
    let own = this.meshes.get(mesh);
    if (!own) {
      own = joinPrimitives(mesh.listPrimitives(), {
        slotOf: (p) => this.ids.get(p.getMaterial()!) ?? '',
        seed: `${this.name}/${this.scene.pieces.length}`,
        warn: (text) => this.warn(`${this.name}: ${text}`),
      });
      this.meshes.set(mesh, own);
    }
    return own;
  }

  private put(name: string, parent: number, local: Affine, mesh?: Mesh): number {
    const still = local.every((x, i) => x === IDENTITY[i]);
    const { pieces } = this.scene;
    return pieces.push({ name, parent, ...(mesh ? { mesh } : {}), ...(still ? {} : { place: local }) }) - 1;
  }

  private walk(node: Node, parent: number): void {
    if (this.walked.has(node)) return;
    this.walked.add(node);
    const mesh = this.meshOf(node);
    const name = node.getName() || node.getMesh()?.getName() || `piece ${this.scene.pieces.length + 1}`;
    const copies = mesh && node.getExtension<InstancedMesh>(EXTMeshGPUInstancing.EXTENSION_NAME);
    const at = this.put(name, parent, fromMatrix4(node.getMatrix()), copies ? undefined : mesh);
    if (copies) this.copies(copies, name, at, mesh);
    for (const child of node.listChildren()) this.walk(child, at);
  }

  /** A mesh in many places: a piece for each, of the same mesh. */
  private copies(list: InstancedMesh, name: string, parent: number, mesh: Mesh): void {
    const [at, turn, size] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((n) => list.getAttribute(n));
    const count = Math.max(at?.getCount() ?? 0, turn?.getCount() ?? 0, size?.getCount() ?? 0);
    if (count > MOST_COPIES)
      this.warn(
        `${this.name}: ${name} stands in ${count.toLocaleString('en')} places; the first ` +
          `${MOST_COPIES.toLocaleString('en')} were read.`,
      );
    const element = (a: typeof at, i: number, otherwise: number[]) =>
      a && i < a.getCount() ? a.getElement(i, []) : otherwise;
    for (let i = 0; i < Math.min(count, MOST_COPIES); i++) {
      const [x, y, z, w] = element(turn, i, [0, 0, 0, 1]);
      const [sx, sy, sz] = element(size, i, [1, 1, 1]);
      const [px, py, pz] = element(at, i, [0, 0, 0]);
      const l = Math.hypot(x, y, z, w) || 1;
      this.put(`${name} ${i + 1}`, parent, turned(x / l, y / l, z / l, w / l, [sx, sy, sz], [px, py, pz]), mesh);
    }
  }

  run(): void {
    const root = this.doc.getRoot();
    const scenes = root.listScenes();
    const top = root.getDefaultScene() ?? scenes[0];
    if (!top) for (const n of root.listNodes()) if (!n.getParentNode()) this.walk(n, -1);
    for (const node of top?.listChildren() ?? []) this.walk(node, -1);
    // What is only in other scenes comes too, each in a group of its own.
    for (const s of scenes) {
      const fresh = s === top ? [] : s.listChildren().filter((n) => !this.walked.has(n));
      if (fresh.length === 0) continue;
      const group = this.put(s.getName() || `scene ${scenes.indexOf(s) + 1}`, -1, IDENTITY);
      for (const node of fresh) this.walk(node, group);
    }
  }

  /** Sentences about what it holds besides. */
  besides(used: readonly string[]): void {
    const root = this.doc.getRoot();
    const primitives = root.listMeshes().flatMap((m) => m.listPrimitives());
    const semantic = (pattern: RegExp) => primitives.some((p) => p.listSemantics().some((s) => pattern.test(s)));
    const extras = [...root.listNodes(), ...root.listMeshes(), ...root.listMaterials(), ...root.listScenes()];
    const other = used.filter((x) => !KNOWN_EXTENSIONS.has(x));
    const left = [
      root.listAnimations().length ? 'motions' : '',
      root.listSkins().length ? 'skins' : '',
      root.listCameras().length ? 'cameras' : '',
      used.includes(KHRLightsPunctual.EXTENSION_NAME) ? 'lights' : '',
      primitives.some((p) => p.listTargets().length) ? 'shapes to blend to' : '',
      semantic(/^TEXCOORD_([4-9]|\d\d)/) ? 'more than four UV sets' : '',
      semantic(/^COLOR_[1-9]/) ? 'more than one set of colours' : '',
      extras.some((x) => Object.keys(x.getExtras()).length > 0) ? 'notes of other programs (extras)' : '',
      ...other.map((x) => x.slice(0, 60)),
    ].filter(Boolean);
    if (left.length)
      this.warn(`${this.name} also holds ${left.join(', ').replace(/, ([^,]*)$/, ' and $1')}, which are not kept yet.`);
    if (!this.scene.pieces.some((p) => p.mesh)) this.warn(`${this.name} holds no meshes.`);
  }
}

/** A turn (unit quaternion), after sizes and before a shift. */
function turned(x: number, y: number, z: number, w: number, s: number[], at: number[]): Affine {
  return [
    (1 - 2 * (y * y + z * z)) * s[0],
    2 * (x * y - z * w) * s[1],
    2 * (x * z + y * w) * s[2],
    at[0],
    2 * (x * y + z * w) * s[0],
    (1 - 2 * (x * x + z * z)) * s[1],
    2 * (y * z - x * w) * s[2],
    at[1],
    2 * (x * z - y * w) * s[0],
    2 * (y * z + x * w) * s[1],
    (1 - 2 * (x * x + y * y)) * s[2],
    at[2],
  ];
}

function sceneOf(doc: Document, name: string, used: readonly string[]): Scene {
  const reading = new Reading(doc, name);
  reading.run();
  reading.besides(used);
  return reading.scene;
}
