/** The bench worker: holds core, follows recipes, answers with display buffers. One per open project. */
import { displayBuffers, type DisplayBuffers } from '../core/display/buffers';
import { transformVertices } from '../core/edit/transform';
import type { Affine } from '../core/math/affine';
import { elementPoint, nearestElement } from '../core/mesh/elements';
import { packScene } from '../core/formats/pack';
import { flatten, type Scene } from '../core/formats/scene';
import { writePng } from '../core/formats/png';
import { UV, type Mesh } from '../core/mesh/mesh';
import { areaOf, boundsOf, components, shapeOf } from '../core/mesh/measure';
import { faceNormals } from '../core/mesh/normals';
import { mask, resolve, verticesOf, type PickKind } from '../core/mesh/picks';
import { topologyOf } from '../core/mesh/topology';
import { triangleCount } from '../core/mesh/triangulate';
import { Cancelled } from '../core/recipe/define';
import { evaluate, Memory } from '../core/recipe/evaluate';
import { uvFigures } from '../core/uv/measure';
import { buildScene } from '../document/build';
import type { Piece, ProjectDocument } from '../document/types';
import type {
  AskedAnchor,
  Edited,
  Facts,
  FoundAnchors,
  MeshArrays,
  PartFound,
  PieceShown,
  ProgressNote,
  Reply,
  Request,
  StepReport,
  TreeNote,
} from './protocol';

const scope = self as unknown as {
  postMessage(message: unknown, transfer?: Transferable[]): void;
  onmessage: ((e: MessageEvent) => void) | null;
};
const memory = new Memory();
const pieces = new Map<string, Piece>();
const sent = new Map<string, string>();
/** What each piece shows. */
const results = new Map<string, Mesh>();
let sentEdited = '';
let edited: Mesh | undefined;
/** Number of the newest "show"; shared with the page where the browser allows, so that overtaken work stops at once. */
let newest: Int32Array | undefined;

const blobs = new Map<string, Promise<Uint8Array>>();
async function blob(sha: string): Promise<Uint8Array> {
  let p = blobs.get(sha);
  if (!p) {
    p = fetch(`/api/blobs/${sha}`).then(async (r) => {
      if (!r.ok) throw new Error('The file behind this step could not be fetched.');
      return new Uint8Array(await r.arrayBuffer());
    });
    p.catch(() => blobs.delete(sha));
    blobs.set(sha, p);
  }
  return p;
}

scope.onmessage = (e: MessageEvent<Request | { newest: Int32Array }>) => {
  if ('newest' in e.data) {
    newest = e.data.newest;
    return;
  }
  const request = e.data;
  void answer(request).then(
    ({ reply, transfer }) => scope.postMessage(reply, transfer),
    (error: unknown) => {
      scope.postMessage({
        id: request.id,
        ok: false,
        cancelled: error instanceof Cancelled,
        error: error instanceof Error ? error.message : 'That could not be done.',
      } satisfies Reply);
    },
  );
};

type Answer = { reply: Reply; transfer?: Transferable[] };

async function answer(q: Request): Promise<Answer> {
  switch (q.ask) {
    case 'show':
      return show(q);
    case 'facts':
      return { reply: { id: q.id, ok: true, facts: factsOf(q.kind, q.indices, q.world) } };
    case 'uv': {
      const uv = edited?.attributes[UV];
      return { reply: { id: q.id, ok: true, uv: edited && uv ? uvFigures(edited, uv.data, 1024) : null } };
    }
    case 'ship': {
      const { scene } = await buildScene(q.document, q.options, { memory, blob, encode: writePng });
      const { bytes, ending } = await packScene(
        scene,
        q.format,
        q.document.name.replace(/\s+/g, '-').toLowerCase(),
        false,
      );
      return {
        reply: { id: q.id, ok: true, file: bytes, ending, warnings: scene.warnings },
        transfer: [bytes.buffer as ArrayBuffer],
      };
    }
    case 'check': {
      const { scene } = await buildScene(q.document, q.options, { memory, blob, encode: () => new Uint8Array(0) });
      let triangles = 0;
      const seen = new Set<Mesh>();
      for (const p of scene.pieces) {
        if (!p.mesh) continue;
        triangles += triangleCount(p.mesh);
        if (seen.has(p.mesh)) continue; // a linked copy
        seen.add(p.mesh);
        const s = shapeOf(p.mesh);
        if (s.openEdges) scene.warnings.push(`${p.name} has ${s.openEdges} open edges.`);
        if (s.nonManifoldEdges)
          scene.warnings.push(`${p.name} has ${s.nonManifoldEdges} edges on three or more faces.`);
        if (s.doubledFaces) scene.warnings.push(`${p.name} has ${s.doubledFaces} doubled faces.`);
        const uv = p.mesh.attributes[UV];
        if (uv) {
          const f = uvFigures(p.mesh, uv.data, 512);
          if (f.overlap > 0.001)
            scene.warnings.push(`${p.name}: ${(100 * f.overlap).toFixed(1)} % of the sheet is covered twice.`);
        }
      }
      scene.warnings.push(...limits(q.document, flatten({ ...scene, scale: undefined }), triangles, q.options.unit));
      return { reply: { id: q.id, ok: true, warnings: scene.warnings, triangles } };
    }
    case 'keep': {
      blobs.set(q.sha, Promise.resolve(q.bytes));
      return { reply: { id: q.id, ok: true, kept: true } };
    }
    case 'anchor': {
      const mesh = results.get(q.piece);
      if (!mesh) throw new Error('That piece has nothing to hold on to.');
      return { reply: { id: q.id, ok: true, ...nearestElement(mesh, q.kind, q.at) } };
    }
    case 'parts': {
      const mesh = results.get(q.piece);
      return { reply: { id: q.id, ok: true, parts: mesh ? partsFound(mesh, q.by) : [] } };
    }
  }
}

/** What the project's settings ask of what leaves: its triangle budget, and the printer's bed. */
function limits(doc: ProjectDocument, flat: Scene, triangles: number, unit: number): string[] {
  const out: string[] = [],
    { triangles: budget, bed } = doc.settings;
  if (budget > 0 && triangles > budget)
    out.push(
      `${triangles.toLocaleString('en')} triangles are ${(triangles - budget).toLocaleString('en')} more than the project's budget.`,
    );
  if (doc.purpose === 'print') {
    const lo = [Infinity, Infinity, Infinity],
      hi = [-Infinity, -Infinity, -Infinity];
    for (const p of flat.pieces)
      if (p.mesh?.vertexCount) {
        const b = boundsOf(p.mesh.positions);
        for (let k = 0; k < 3; k++) {
          lo[k] = Math.min(lo[k], b.min[k]);
          hi[k] = Math.max(hi[k], b.max[k]);
        }
      }
    const size = [0, 1, 2].map((k) => Math.max(0, (hi[k] - lo[k]) * unit)).sort((a, b) => b - a),
      room = [...bed].sort((a, b) => b - a);
    if (size.some((x, k) => x > room[k]))
      out.push(
        `It is ${size.map((x) => `${(x * 1000).toFixed(0)}`).join(' × ')} mm, more than the printer's bed of ${room.map((x) => `${(x * 1000).toFixed(0)}`).join(' × ')} mm holds.`,
      );
  }
  return out;
}

function partsFound(mesh: Mesh, by: 'part' | 'material' | 'set'): PartFound[] {
  if (by === 'part') {
    const { of, count } = components(mesh),
      first = new Map<number, number>();
    for (let f = 0; f < mesh.faceCount; f++) {
      const c = of[mesh.cornerVertex[mesh.faceStart[f]]];
      if (!first.has(c)) first.set(c, f);
    }
    return count < 2 ? [] : [...first.values()].map((f, i) => ({ name: `part ${i + 1}`, keys: [mesh.faceKey[f]] }));
  }
  const names = by === 'material' ? mesh.slots : mesh.groups,
    data = mesh.attributes[by === 'material' ? 'material' : 'group']?.data,
    used = new Set<number>();
  for (let f = 0; f < mesh.faceCount; f++) used.add(data ? data[f] : -1);
  return used.size < 2
    ? []
    : [...used].sort((a, b) => a - b).map((i) => ({ name: names[i] ?? 'the rest', set: names[i] ?? '', keys: [] }));
}

async function show(q: Extract<Request, { ask: 'show' }>): Promise<Answer> {
  for (const p of q.pieces) pieces.set(p.id, p);
  const gone = [...pieces.keys()].filter((id) => !q.order.includes(id));
  for (const id of gone) {
    pieces.delete(id);
    sent.delete(id);
    results.delete(id);
  }
  const shown: PieceShown[] = [],
    transfer: Transferable[] = [];
  let editedReply: Edited | null | undefined = q.focus ? undefined : null;
  const wanted = new Set(
    q.order.flatMap((id) => {
      const p = pieces.get(id);
      return p?.visible ? [p.link ?? id] : [];
    }),
  );
  const cancelled = () => newest !== undefined && Atomics.load(newest, 0) > q.id;
  // The focused piece first: it is what the person looks at.
  const order = q.focus ? [q.focus.piece, ...q.order.filter((id) => id !== q.focus!.piece)] : q.order;
  for (const id of order) {
    const piece = pieces.get(id);
    if (!piece || piece.kind !== 'mesh') continue;
    const focused = q.focus?.piece === id;
    if (piece.link !== null || (!wanted.has(id) && !focused)) continue;
    const out = await evaluate(piece.recipe, {
      memory,
      materials: q.materials,
      blob,
      cancelled,
      progress: (step, share) => {
        scope.postMessage({ progress: { piece: id, step, share } } satisfies ProgressNote);
      },
    });
    const marker = piece.upTo === null ? -1 : out.findIndex((o) => o.step === piece.upTo);
    const last = out[marker >= 0 ? marker : out.length - 1];
    if (last) results.set(id, last.mesh);
    else results.delete(id);
    const reports: StepReport[] = out.map((o) => ({
      step: o.step,
      error: o.error,
      warnings: o.warnings,
      figures: o.figures,
      took: o.took,
    }));
    const texture = q.textures ? last?.mesh.textures : undefined;
    const hash = last ? `${last.hash}/${piece.smooth}/${texture ? 't' : ''}` : 'empty';
    if (sent.get(id) === hash) shown.push({ piece: id, hash, reports });
    else if (!last) {
      sent.set(id, hash);
      shown.push({ piece: id, hash, reports });
    } else {
      const buffers = displayBuffers(last.mesh, piece.smooth);
      transfer.push(
        buffers.position.buffer,
        buffers.normal.buffer,
        buffers.index.buffer,
        buffers.triangleFace.buffer,
        buffers.edgePosition.buffer,
        buffers.edgeInk.buffer,
      );
      const images = texture?.images();
      if (buffers.curvePosition) transfer.push(buffers.curvePosition.buffer);
      if (buffers.triangles > TREE_FROM) plantTree(id, hash, buffers);
      shown.push({
        piece: id,
        hash,
        buffers,
        bounds: boundsOf(last.mesh.vertexCount || !last.mesh.curves ? last.mesh.positions : last.mesh.curves.points),
        reports,
        ...(texture && images
          ? {
              texture: {
                name: texture.name,
                size: texture.size,
                color: images.color.data,
                surface: images.surface.data,
              },
            }
          : {}),
      });
      sent.set(id, hash);
    }
    if (focused) {
      const at = q.focus!.step === null ? last : out.find((o) => o.step === q.focus!.step);
      const light = !!at && !q.elements && at.mesh.faceCount > LIGHT_FROM,
        key = at ? `${id}/${at.step}/${at.hash}/${last?.hash}/${light}` : '';
      if (!at) editedReply = null;
      else if (key !== sentEdited || edited !== at.mesh) {
        edited = at.mesh;
        editedReply = editedOf(id, at.step, key, at.mesh, last?.mesh, light);
      }
      sentEdited = key;
    }
  }
  if (!q.focus) {
    edited = undefined;
    sentEdited = '';
  }
  return { reply: { id: q.id, ok: true, shown, gone, edited: editedReply, anchors: findAnchors(q.anchors) }, transfer };
}

function findAnchors(asked: readonly AskedAnchor[]): FoundAnchors {
  const out: FoundAnchors = {};
  for (const a of asked) {
    const mesh = results.get(a.piece),
      { indices } = mesh ? resolve(mesh, { kind: a.kind, keys: [a.key] }) : { indices: [] };
    out[a.name] = mesh && indices.length ? elementPoint(mesh, a.kind, indices[0], a.t) : null;
  }
  return out;
}

/** Above this many faces, arrays of elements go to the page only when elements are picked: taking them apart there would hold it up. */
const LIGHT_FROM = 120000;
/** Below this a ray over all triangles is quick enough. */
const TREE_FROM = 20000;
/** Trees are made after the picture has been sent, one at a time, and only for what is still shown. */
function plantTree(piece: string, hash: string, buffers: DisplayBuffers): void {
  const position = buffers.position.slice(),
    index = buffers.index.slice();
  setTimeout(() => {
    if (sent.get(piece) !== hash) return;
    void import('./tree').then(({ makeTree }) => {
      const { roots, indirect } = makeTree(position, index);
      scope.postMessage({ tree: { piece, hash, roots, indirect } } satisfies TreeNote, [...roots, indirect.buffer]);
    });
  }, 50);
}

function editedOf(
  piece: string,
  step: string,
  hash: string,
  mesh: Mesh,
  result: Mesh | undefined,
  light: boolean,
): Edited {
  const same = !!result && result.cornerVertex === mesh.cornerVertex && result.positions === mesh.positions;
  if (light)
    return {
      piece,
      step,
      hash,
      shape: shapeOf(mesh),
      bounds: boundsOf(mesh.positions),
      same: true,
      lines: new Float32Array(0),
      ink: new Float32Array(0),
    };
  // Lines are only drawn where they are not the piece's own.
  const { edgePosition, edgeInk } = same
    ? { edgePosition: new Float32Array(0), edgeInk: new Float32Array(0) }
    : displayBuffers(mesh, 0);
  const arrays: MeshArrays = {
    positions: mesh.positions,
    faceStart: mesh.faceStart,
    cornerVertex: mesh.cornerVertex,
    vertexKey: mesh.vertexKey,
    faceKey: mesh.faceKey,
    slots: mesh.slots,
    groups: mesh.groups,
  };
  const uv = mesh.attributes[UV]?.data,
    slot = mesh.attributes.material?.data;
  if (uv instanceof Float32Array) arrays.uv = uv;
  if (slot instanceof Int32Array) arrays.slot = slot;
  const group = mesh.attributes.group?.data;
  if (group instanceof Int32Array) arrays.group = group;
  return {
    piece,
    step,
    hash,
    mesh: arrays,
    shape: shapeOf(mesh),
    bounds: boundsOf(mesh.positions),
    same,
    lines: edgePosition,
    ink: edgeInk,
  };
}

function factsOf(kind: PickKind, indices: Uint32Array, world: Affine): Facts {
  if (!edited || indices.length === 0) return { area: 0, length: 0, size: [0, 0, 0], flat: 0 };
  // Measured as it stands in the world: what was sized reads in real units.
  const mesh = transformVertices(edited, world),
    vertices = verticesOf(mesh, kind, indices),
    p = mesh.positions;
  const at = new Float32Array(3 * vertices.length);
  vertices.forEach((v, i) => at.set(p.subarray(3 * v, 3 * v + 3), 3 * i));
  const b = boundsOf(at);
  const size: [number, number, number] = [b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]];
  let area = 0,
    length = 0,
    flat = 0;
  if (kind === 'face') {
    area = areaOf(mesh, mask(mesh.faceCount, indices));
    const normals = faceNormals(mesh, true),
      n = [0, 0, 0];
    for (const f of indices) for (let k = 0; k < 3; k++) n[k] += normals[3 * f + k];
    const l = Math.hypot(...n) || 1;
    let lo = Infinity,
      hi = -Infinity;
    for (let i = 0; i < at.length; i += 3) {
      const d = (at[i] * n[0] + at[i + 1] * n[1] + at[i + 2] * n[2]) / l;
      lo = Math.min(lo, d);
      hi = Math.max(hi, d);
    }
    flat = hi - lo;
  } else if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    for (const e of indices) {
      const a = 3 * edgeVertex[2 * e],
        c = 3 * edgeVertex[2 * e + 1];
      length += Math.hypot(p[a] - p[c], p[a + 1] - p[c + 1], p[a + 2] - p[c + 2]);
    }
  }
  return { area, length, size, flat };
}
