/** The bench worker: holds core, follows recipes, answers with display buffers. One per open project. */
import { displayBuffers } from '../core/display/buffers';
import { readAny } from '../core/formats/read';
import { objZip } from '../core/formats/pack';
import { writeGlb } from '../core/formats/glb';
import { writePng } from '../core/formats/png';
import { toHex } from '../core/formats/scene';
import { UV, type Mesh } from '../core/mesh/mesh';
import { areaOf, boundsOf, shapeOf } from '../core/mesh/measure';
import { faceNormals } from '../core/mesh/normals';
import { mask, verticesOf, type PickKind } from '../core/mesh/picks';
import { topologyOf } from '../core/mesh/topology';
import { triangleCount } from '../core/mesh/triangulate';
import { Cancelled } from '../core/recipe/define';
import { evaluate, Memory } from '../core/recipe/evaluate';
import { uvFigures } from '../core/uv/measure';
import { buildScene } from '../document/build';
import type { Piece } from '../document/types';
import type { Edited, Facts, ImportReport, MeshArrays, PieceShown, ProgressNote, Reply, Request, StepReport } from './protocol';

const scope = self as unknown as { postMessage(message: unknown, transfer?: Transferable[]): void; onmessage: ((e: MessageEvent) => void) | null };
const memory = new Memory();
const pieces = new Map<string, Piece>();
const sent = new Map<string, string>();
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
  if ('newest' in e.data) { newest = e.data.newest; return; }
  const request = e.data;
  void answer(request).then(({ reply, transfer }) => scope.postMessage(reply, transfer), (error: unknown) => {
    scope.postMessage({ id: request.id, ok: false, cancelled: error instanceof Cancelled, error: error instanceof Error ? error.message : 'That could not be done.' } satisfies Reply);
  });
};

type Answer = { reply: Reply; transfer?: Transferable[] };

async function answer(q: Request): Promise<Answer> {
  switch (q.ask) {
    case 'show': return show(q);
    case 'facts': return { reply: { id: q.id, ok: true, facts: factsOf(q.kind, q.indices) } };
    case 'uv': {
      const uv = edited?.attributes[UV];
      return { reply: { id: q.id, ok: true, uv: edited && uv ? uvFigures(edited, uv.data, 1024) : null } };
    }
    case 'ship': {
      const { scene } = await buildScene(q.document, q.options, { memory, blob, encode: writePng });
      const file = q.format === 'glb' ? await writeGlb(scene) : objZip(scene, q.document.name.replace(/\s+/g, '-').toLowerCase());
      return { reply: { id: q.id, ok: true, file, warnings: scene.warnings }, transfer: [file.buffer as ArrayBuffer] };
    }
    case 'check': {
      const { scene } = await buildScene(q.document, q.options, { memory, blob, encode: () => new Uint8Array(0) });
      let triangles = 0;
      for (const p of scene.pieces) {
        if (!p.mesh) continue;
        triangles += triangleCount(p.mesh);
        const s = shapeOf(p.mesh);
        if (s.openEdges) scene.warnings.push(`${p.name} has ${s.openEdges} open edges.`);
        if (s.nonManifoldEdges) scene.warnings.push(`${p.name} has ${s.nonManifoldEdges} edges on three or more faces.`);
        if (s.doubledFaces) scene.warnings.push(`${p.name} has ${s.doubledFaces} doubled faces.`);
        const uv = p.mesh.attributes[UV];
        if (uv) { const f = uvFigures(p.mesh, uv.data, 512); if (f.overlap > 0.001) scene.warnings.push(`${p.name}: ${(100 * f.overlap).toFixed(1)} % of the sheet is covered twice.`); }
      }
      return { reply: { id: q.id, ok: true, warnings: scene.warnings, triangles } };
    }
    case 'import': {
      const scene = await readAny(q.bytes, q.name, new Map(q.beside));
      const imported: ImportReport = {
        pieces: scene.pieces.flatMap((p, item) => (p.mesh ? [{ name: p.name, faces: p.mesh.faceCount, item, slots: [...p.mesh.slots] }] : [])),
        materials: scene.materials.map((m) => ({ id: m.id, name: m.name, color: toHex(m.color), roughness: m.roughness, metalness: m.metalness })), warnings: scene.warnings,
      };
      return { reply: { id: q.id, ok: true, imported } };
    }
  }
}

async function show(q: Extract<Request, { ask: 'show' }>): Promise<Answer> {
  for (const p of q.pieces) pieces.set(p.id, p);
  const gone = [...pieces.keys()].filter((id) => !q.order.includes(id));
  for (const id of gone) { pieces.delete(id); sent.delete(id); }
  const shown: PieceShown[] = [], transfer: Transferable[] = [];
  let editedReply: Edited | null | undefined = q.focus ? undefined : null;
  const cancelled = () => newest !== undefined && Atomics.load(newest, 0) > q.id;
  // The focused piece first: it is what the person looks at.
  const order = q.focus ? [q.focus.piece, ...q.order.filter((id) => id !== q.focus!.piece)] : q.order;
  for (const id of order) {
    const piece = pieces.get(id);
    if (!piece || piece.kind !== 'mesh') continue;
    const focused = q.focus?.piece === id;
    if (!piece.visible && !focused) continue;
    const out = await evaluate(piece.recipe, { memory, materials: q.materials, blob, cancelled, progress: (step, share) => { scope.postMessage({ progress: { piece: id, step, share } } satisfies ProgressNote); } });
    const marker = piece.upTo === null ? -1 : out.findIndex((o) => o.step === piece.upTo);
    const last = out[marker >= 0 ? marker : out.length - 1];
    const reports: StepReport[] = out.map((o) => ({ step: o.step, error: o.error, warnings: o.warnings, figures: o.figures, took: o.took }));
    const texture = q.textures ? last?.mesh.textures : undefined;
    const hash = last ? `${last.hash}/${piece.smooth}/${texture ? 't' : ''}` : 'empty';
    if (sent.get(id) === hash) shown.push({ piece: id, hash, reports });
    else if (!last) { sent.set(id, hash); shown.push({ piece: id, hash, reports }); } else {
      const buffers = displayBuffers(last.mesh, piece.smooth);
      transfer.push(buffers.position.buffer, buffers.normal.buffer, buffers.index.buffer, buffers.triangleFace.buffer, buffers.edgePosition.buffer, buffers.edgeInk.buffer);
      const images = texture?.images();
      shown.push({ piece: id, hash, buffers, bounds: boundsOf(last.mesh.positions), reports, ...(texture && images ? { texture: { name: texture.name, size: texture.size, color: images.color.data, surface: images.surface.data } } : {}) });
      sent.set(id, hash);
    }
    if (focused) {
      const at = q.focus!.step === null ? last : out.find((o) => o.step === q.focus!.step);
      const key = at ? `${id}/${at.step}/${at.hash}/${last?.hash}` : '';
      if (!at) editedReply = null;
      else if (key !== sentEdited || edited !== at.mesh) {
        edited = at.mesh;
        editedReply = editedOf(id, at.step, key, at.mesh, last?.mesh);
      }
      sentEdited = key;
    }
  }
  if (!q.focus) { edited = undefined; sentEdited = ''; }
  return { reply: { id: q.id, ok: true, shown, gone, edited: editedReply }, transfer };
}

function editedOf(piece: string, step: string, hash: string, mesh: Mesh, result: Mesh | undefined): Edited {
  const { edgePosition, edgeInk } = displayBuffers(mesh, 0);
  const arrays: MeshArrays = { positions: mesh.positions, faceStart: mesh.faceStart, cornerVertex: mesh.cornerVertex, vertexKey: mesh.vertexKey, faceKey: mesh.faceKey, slots: mesh.slots };
  const uv = mesh.attributes[UV]?.data, slot = mesh.attributes.material?.data;
  if (uv instanceof Float32Array) arrays.uv = uv;
  if (slot instanceof Int32Array) arrays.slot = slot;
  return { piece, step, hash, mesh: arrays, shape: shapeOf(mesh), bounds: boundsOf(mesh.positions), same: !!result && result.cornerVertex === mesh.cornerVertex && result.positions === mesh.positions, lines: edgePosition, ink: edgeInk };
}

function factsOf(kind: PickKind, indices: Uint32Array): Facts {
  if (!edited || indices.length === 0) return { area: 0, length: 0, size: [0, 0, 0], flat: 0 };
  const mesh = edited, vertices = verticesOf(mesh, kind, indices), p = mesh.positions;
  const at = new Float32Array(3 * vertices.length);
  vertices.forEach((v, i) => at.set(p.subarray(3 * v, 3 * v + 3), 3 * i));
  const b = boundsOf(at);
  const size: [number, number, number] = [b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]];
  let area = 0, length = 0, flat = 0;
  if (kind === 'face') {
    area = areaOf(mesh, mask(mesh.faceCount, indices));
    const normals = faceNormals(mesh, true), n = [0, 0, 0];
    for (const f of indices) for (let k = 0; k < 3; k++) n[k] += normals[3 * f + k];
    const l = Math.hypot(...n) || 1;
    let lo = Infinity, hi = -Infinity;
    for (let i = 0; i < at.length; i += 3) { const d = (at[i] * n[0] + at[i + 1] * n[1] + at[i + 2] * n[2]) / l; lo = Math.min(lo, d); hi = Math.max(hi, d); }
    flat = hi - lo;
  } else if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    for (const e of indices) { const a = 3 * edgeVertex[2 * e], c = 3 * edgeVertex[2 * e + 1]; length += Math.hypot(p[a] - p[c], p[a + 1] - p[c + 1], p[a + 2] - p[c + 2]); }
  }
  return { area, length, size, flat };
}
