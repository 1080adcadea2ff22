/**
 * GLB (glTF 2.0 binary) both ways, through gltf-transform. glTF knows triangles only, one vertex per combination of place, normal and
 * UV; reading joins what stands at exactly the same place again, so that a closed model comes back closed.
 */
import { Document, WebIO, type Node, type Primitive } from '@gltf-transform/core';
import { compose, fromMatrix4, IDENTITY, placeOf, toMatrix4, type Affine } from '../math/affine';
import { keyOf } from '../math/hash';
import { countedKeys, Mesh, UV, uvSets, type Attribute } from '../mesh/mesh';
import { nearest } from '../edit/weld';
import { cornerNormals } from '../mesh/normals';
import { triangulate } from '../mesh/triangulate';
import { transformMesh } from '../edit/transform';
import { emptyScene, FileError, safeName, toLinear, toSrgb, type Scene } from './scene';
import { checkGltf, jsonOf } from './gltfCheck';
import { readingError } from './words';

/** Faces that meet at less than this look smooth, where the mesh brings no normals of its own. Radians. */
export const SMOOTH_ANGLE = 0.7;

/** glTF nodes move, turn and size, but cannot lean: what leans is written into the mesh, or handed on to what is inside. */
function withoutLean(scene: Scene): Scene {
  const rest: Affine[] = [];
  const pieces = scene.pieces.map((p, i) => {
    const above = p.parent >= 0 ? rest[p.parent] : IDENTITY;
    const local = p.place ? compose(above, p.place) : above;
    rest[i] = IDENTITY;
    if (local === IDENTITY || placeOf(local).lean.every((x) => Math.abs(x) < 1e-7))
      return { ...p, place: local === IDENTITY ? undefined : local };
    rest[i] = local;
    return { ...p, place: undefined, mesh: p.mesh && transformMesh(p.mesh, local) };
  });
  return { ...scene, pieces };
}

export async function writeGlb(scene: Scene): Promise<Uint8Array> {
  return new WebIO().writeBinary(documentOf(scene));
}

/** glTF as text, its buffer and its pictures as files beside it. */
export async function writeGltf(scene: Scene, stem: string): Promise<[string, Uint8Array][]> {
  const doc = documentOf(scene);
  doc.getRoot().listBuffers()[0].setURI(`${stem}.bin`);
  doc
    .getRoot()
    .listTextures()
    .forEach((t, i) => t.setURI(safeName(t.getName(), `picture-${i + 1}.png`)));
  const { json, resources } = await new WebIO().writeJSON(doc);
  return [
    [`${stem}.gltf`, new TextEncoder().encode(JSON.stringify(json))],
    ...Object.entries(resources).map(([n, b]): [string, Uint8Array] => [n, b]),
  ];
}

function documentOf(input: Scene): Document {
  const scene = withoutLean(input);
  const doc = new Document();
  const shared = new Map<Mesh, ReturnType<Document['createMesh']>>();
  const buffer = doc.createBuffer();
  const textures = scene.images.map((i) => doc.createTexture(i.name).setImage(i.bytes).setMimeType(i.mime));
  const materials = new Map(
    scene.materials.map((m) => {
      const [r, g, b] = [0, 1, 2].map((k) => toLinear(m.color[k]));
      const out = doc
        .createMaterial(m.name)
        .setBaseColorFactor([r, g, b, m.color[3]])
        .setRoughnessFactor(m.roughness)
        .setMetallicFactor(m.metalness);
      if (m.color[3] < 1) out.setAlphaMode('BLEND');
      if (m.colorImage !== undefined)
        out.setBaseColorTexture(textures[m.colorImage]).setBaseColorFactor([1, 1, 1, m.color[3]]);
      if (m.surfaceImage !== undefined)
        out.setMetallicRoughnessTexture(textures[m.surfaceImage]).setRoughnessFactor(1).setMetallicFactor(1);
      return [m.id, out] as const;
    }),
  );
  const root = doc.createScene('Scene');
  doc.getRoot().setDefaultScene(root);
  const nodes: Node[] = [];
  for (const piece of scene.pieces) {
    const node = doc.createNode(piece.name);
    nodes.push(node);
    if (piece.parent >= 0) nodes[piece.parent].addChild(node);
    else root.addChild(node);
    if (piece.place) node.setMatrix(toMatrix4(piece.place) as Parameters<Node['setMatrix']>[0]);
    if (!piece.mesh || piece.mesh.faceCount === 0) continue;
    // Linked copies are one mesh in several places.
    const had = shared.get(piece.mesh);
    if (had) {
      node.setMesh(had);
      continue;
    }
    const mesh = doc.createMesh(piece.name);
    shared.set(piece.mesh, mesh);
    for (const part of parts(piece.mesh)) {
      const p = doc
        .createPrimitive()
        .setIndices(
          doc
            .createAccessor()
            .setType('SCALAR')
            .setArray(part.vertices > 65535 ? part.index : Uint16Array.from(part.index))
            .setBuffer(buffer),
        )
        .setAttribute('POSITION', doc.createAccessor().setType('VEC3').setArray(part.position).setBuffer(buffer))
        .setAttribute('NORMAL', doc.createAccessor().setType('VEC3').setArray(part.normal).setBuffer(buffer));
      part.uv.forEach((uv, i) =>
        p.setAttribute(`TEXCOORD_${i}`, doc.createAccessor().setType('VEC2').setArray(uv).setBuffer(buffer)),
      );
      const material = materials.get(part.slot);
      if (material) p.setMaterial(material);
      if (part.group) p.setExtras({ group: part.group });
      mesh.addPrimitive(p);
    }
    node.setMesh(mesh);
  }
  doc.getRoot().getAsset().generator = 'Glypta';
  return doc;
}

interface Part {
  slot: string;
  group: string;
  vertices: number;
  index: Uint32Array;
  position: Float32Array<ArrayBuffer>;
  normal: Float32Array<ArrayBuffer>;
  uv: Float32Array<ArrayBuffer>[];
}

/** Triangles by material and group, each with its own run of vertices. */
function parts(mesh: Mesh): Part[] {
  const t = triangulate(mesh);
  const p = mesh.positions;
  const own = mesh.attributes.normal;
  const normals = own ? normalised(own.data as Float32Array) : cornerNormals(mesh, SMOOTH_ANGLE);
  const sets = uvSets(mesh).map((n) => mesh.attributes[n].data);
  const material = mesh.attributes.material?.data;
  const group = mesh.attributes.group?.data;
  const byPart = new Map<string, number[]>();
  for (let i = 0; i < t.face.length; i++) {
    const f = t.face[i];
    const key = `${material ? material[f] : -1}/${group ? group[f] : -1}`;
    const list = byPart.get(key);
    if (list) list.push(i);
    else byPart.set(key, [i]);
  }
  return [...byPart].map(([key, list]) => {
    const [m, g] = key.split('/').map(Number);
    const index = new Uint32Array(3 * list.length);
    const known = new Map<number, number[]>(); // mesh vertex → its corners already written, with their numbers
    const corners: number[] = [];
    let n = 0;
    for (const i of list)
      for (let k = 0; k < 3; k++) {
        const c = t.corners[3 * i + k];
        const v = mesh.cornerVertex[c];
        const had = known.get(v) ?? [];
        let at = had.find((j) => same(corners[j], c));
        if (at === undefined) {
          at = corners.push(c) - 1;
          had.push(at);
          known.set(v, had);
        }
        index[n++] = at;
      }
    function same(a: number, b: number): boolean {
      if (a === b) return true;
      for (let q = 0; q < 3; q++) if (Math.abs(normals[3 * a + q] - normals[3 * b + q]) > 1e-6) return false;
      for (const s of sets) if (s[2 * a] !== s[2 * b] || s[2 * a + 1] !== s[2 * b + 1]) return false;
      return true;
    }
    const position = new Float32Array(3 * corners.length);
    const normal = new Float32Array(3 * corners.length);
    const uv = sets.map(() => new Float32Array(2 * corners.length));
    corners.forEach((c, i) => {
      const v = mesh.cornerVertex[c];
      let zero = true;
      for (let q = 0; q < 3; q++) {
        position[3 * i + q] = p[3 * v + q];
        normal[3 * i + q] = normals[3 * c + q];
        if (normals[3 * c + q] !== 0) zero = false;
      }
      if (zero) normal[3 * i + 1] = 1; // glTF wants unit normals, even on faces without area
      sets.forEach((s, j) => {
        uv[j][2 * i] = s[2 * c];
        uv[j][2 * i + 1] = 1 - s[2 * c + 1];
      });
    });
    return {
      slot: mesh.slots[m] ?? '',
      group: mesh.groups[g] ?? '',
      vertices: corners.length,
      index,
      position,
      normal,
      uv,
    };
  });
}

function normalised(n: Float32Array): Float32Array {
  const out = new Float32Array(n.length);
  for (let i = 0; i < n.length; i += 3) {
    const l = Math.hypot(n[i], n[i + 1], n[i + 2]);
    if (l > 0) for (let k = 0; k < 3; k++) out[i + k] = n[i + k] / l;
  }
  return out;
}

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
  try {
    checkGltf(jsonOf(bytes.subarray(20, 20 + view.getUint32(12, true)), name), bytes.length, name);
    doc = await new WebIO().readBinary(bytes as Uint8Array<ArrayBuffer>);
  } catch (e) {
    throw readingError(e, name);
  }
  return sceneOf(doc, name);
}

/** glTF as JSON, with its buffers and pictures beside it, by name. */
export async function readGltf(
  bytes: Uint8Array,
  fileName: string,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
): Promise<Scene> {
  const name = safeName(fileName);
  const json = jsonOf(bytes, name) as unknown as Parameters<WebIO['readJSON']>[0]['json'];
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
      `${name} needs ${lost.join(' and ')}, which ${lost.length === 1 ? 'was' : 'were'} not with it. Drop them together.`,
    );
  let doc: Document;
  try {
    doc = await new WebIO().readJSON({ json, resources });
  } catch (e) {
    throw readingError(e, name);
  }
  const scene = sceneOf(doc, name);
  for (const m of missing)
    scene.warnings.push(`The picture ${m} was not with ${name}. Its material keeps its plain colour.`);
  if (missing.length) {
    scene.missing = missing;
    // Pictures that did not come hold nothing: materials do without them.
    for (const m of scene.materials) {
      if (m.colorImage !== undefined && scene.images[m.colorImage].bytes.length === 0) delete m.colorImage;
      if (m.surfaceImage !== undefined && scene.images[m.surfaceImage].bytes.length === 0) delete m.surfaceImage;
    }
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

function sceneOf(doc: Document, name: string): Scene {
  const scene = emptyScene();
  const meshes = new Map<unknown, Mesh>();
  scene.scale = { unit: 1, up: 'y' };
  const root = doc.getRoot();
  const images = new Map(root.listTextures().map((t, i) => [t, i]));
  for (const [t, i] of images)
    scene.images.push({
      name: safeName(t.getName() || t.getURI(), `picture ${i + 1}`),
      mime: (t.getMimeType() || 'image/png') as 'image/png',
      bytes: t.getImage() ?? new Uint8Array(0),
    });
  const ids = new Map(root.listMaterials().map((m, i) => [m, `material ${i + 1}`]));
  for (const [m, id] of ids) {
    const c = m.getBaseColorFactor();
    const texture = m.getBaseColorTexture();
    const surface = m.getMetallicRoughnessTexture();
    scene.materials.push({
      id,
      name: m.getName() || id,
      color: [toSrgb(c[0]), toSrgb(c[1]), toSrgb(c[2]), c[3]],
      roughness: m.getRoughnessFactor(),
      metalness: m.getMetallicFactor(),
      ...(texture ? { colorImage: images.get(texture) } : {}),
      ...(surface ? { surfaceImage: images.get(surface) } : {}),
    });
  }
  const walk = (node: Node, parent: number): void => {
    const mesh = node.getMesh();
    const local = fromMatrix4(node.getMatrix());
    const still = local.every((x, i) => x === IDENTITY[i]);
    let own = mesh ? meshes.get(mesh) : undefined;
    if (mesh && !own)
      meshes.set(mesh, (own = joined(mesh.listPrimitives(), (m) => (m ? ids.get(m)! : ''), name, scene)));
    const at =
      scene.pieces.push({
        name: node.getName() || mesh?.getName() || `piece ${scene.pieces.length + 1}`,
        parent,
        ...(own ? { mesh: own } : {}),
        ...(still ? {} : { place: local }),
      }) - 1;
    for (const child of node.listChildren()) walk(child, at);
  };
  const top = root.getDefaultScene() ?? root.listScenes()[0];
  for (const node of top ? top.listChildren() : root.listNodes().filter((n) => !n.getParentNode())) walk(node, -1);
  const left = [
    root.listMaterials().some((m) => m.getNormalTexture() || m.getOcclusionTexture() || m.getEmissiveTexture())
      ? 'normal, occlusion and glow pictures'
      : '',
    root.listAnimations().length ? 'motions' : '',
    root.listSkins().length ? 'skins' : '',
    root.listCameras().length ? 'cameras' : '',
    root.listMeshes().some((m) => m.listPrimitives().some((p) => p.listTargets().length)) ? 'shapes to blend to' : '',
  ].filter(Boolean);
  if (left.length)
    scene.warnings.push(
      `${name} also holds ${left.join(', ').replace(/, ([^,]*)$/, ' and $1')}, which are not kept yet.`,
    );
  if (!scene.pieces.some((p) => p.mesh)) scene.warnings.push(`${name} holds no meshes.`);
  return scene;
}

function joined(
  primitives: Primitive[],
  id: (m: ReturnType<Primitive['getMaterial']>) => string,
  file: string,
  scene: Scene,
): Mesh {
  const position: number[] = [];
  const normal: number[] = [];
  const uv: number[][] = [];
  const index: number[] = [];
  const material: number[] = [];
  const group: number[] = [];
  const slots: string[] = [];
  const groups: string[] = [];
  const sets = Math.max(
    0,
    ...primitives.map((p) => [0, 1, 2, 3].filter((i) => p.getAttribute(`TEXCOORD_${i}`)).length),
  );
  for (let s = 0; s < sets; s++) uv.push([]);
  let hasNormal = primitives.length > 0;
  for (const p of primitives) {
    const at = p.getAttribute('POSITION');
    if (!at || p.getMode() !== 4) {
      scene.warnings.push(`${file}: lines and points in a mesh were skipped; only triangles are read.`);
      continue;
    }
    const base = position.length / 3;
    const n = at.getCount();
    const e: number[] = [];
    for (let i = 0; i < n; i++) {
      at.getElement(i, e);
      position.push(e[0], e[1], e[2]);
    }
    const q = p.getAttribute('NORMAL');
    if (!q) hasNormal = false;
    for (let i = 0; i < n; i++) {
      if (q) {
        q.getElement(i, e);
        normal.push(e[0], e[1], e[2]);
      } else normal.push(0, 0, 0);
    }
    for (let s = 0; s < sets; s++) {
      const t = p.getAttribute(`TEXCOORD_${s}`);
      for (let i = 0; i < n; i++) {
        if (t) {
          t.getElement(i, e);
          uv[s].push(e[0], 1 - e[1]);
        } else uv[s].push(0, 0);
      }
    }
    const slot = id(p.getMaterial());
    const g = (p.getExtras() as { group?: unknown }).group;
    const m = slot ? indexOf(slots, slot) : -1;
    const gi = typeof g === 'string' ? indexOf(groups, g) : -1;
    const list = p.getIndices()?.getArray();
    const count = list ? list.length : n;
    for (let i = 0; i + 2 < count; i += 3) {
      const tri = [0, 1, 2].map((k) => (list ? list[i + k] : i + k));
      if (tri.some((v) => !(v < n))) {
        scene.warnings.push(`${file}: a triangle names a vertex the mesh does not have. Skipped it.`);
        continue;
      }
      index.push(base + tri[0], base + tri[1], base + tri[2]);
      material.push(m);
      group.push(gi);
    }
  }
  const positions = Float32Array.from(position);
  const to = nearest(positions, 0);
  const number = new Int32Array(positions.length / 3).fill(-1);
  let n = 0;
  const cornerVertex = Uint32Array.from(index, (v) => (number[to[v]] < 0 ? (number[to[v]] = n++) : number[to[v]]));
  const welded = new Float32Array(3 * n);
  number.forEach((i, v) => {
    if (i >= 0) welded.set(positions.subarray(3 * v, 3 * v + 3), 3 * i);
  });
  const attributes: Record<string, Attribute> = {};
  uv.forEach((list, s) => {
    attributes[s === 0 ? UV : `${UV}${s + 1}`] = {
      domain: 'corner',
      width: 2,
      data: Float32Array.from({ length: 2 * index.length }, (_, i) => list[2 * index[i >> 1] + (i & 1)]),
    };
  });
  if (hasNormal)
    attributes.normal = {
      domain: 'corner',
      width: 3,
      data: Float32Array.from({ length: 3 * index.length }, (_, i) => normal[3 * index[Math.floor(i / 3)] + (i % 3)]),
    };
  if (slots.length) attributes.material = { domain: 'face', width: 1, data: Int32Array.from(material) };
  if (groups.length) attributes.group = { domain: 'face', width: 1, data: Int32Array.from(group) };
  const faces = index.length / 3;
  return new Mesh({
    positions: welded,
    faceStart: Uint32Array.from({ length: faces + 1 }, (_, i) => 3 * i),
    cornerVertex,
    attributes,
    slots,
    groups,
    ...countedKeys(n, faces, keyOf(`${file}/${scene.pieces.length}`)),
  });
}

function indexOf(list: string[], name: string): number {
  const i = list.indexOf(name);
  return i >= 0 ? i : list.push(name) - 1;
}
