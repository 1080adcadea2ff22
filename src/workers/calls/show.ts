import { edgeBuffers, memoryOf, movedVertices, type DisplayBuffers } from '../../core/display';
import type { Copied } from '../../core/copies/copies';
import {
  boundsOfGeometry,
  displayGeometry,
  NO_GEOMETRY,
  patchGeometry,
  shapeOfGeometry,
  sizeOf,
  whole,
  type Geometry,
} from '../../core/geometry';
import {
  boundsOfMesh,
  findAnchor,
  shapeOf,
  topologyOf,
  triangleCount,
  UV,
  withSetAhead,
  type Mesh,
} from '../../core/mesh';
import { mapMaps } from '../../core/material';
import { sideBySide } from '../../core/paint/sidebyside';
import { emptyMesh, type ImageData8, type MeshTextures } from '../../core/mesh/mesh';
import { inColoursOf } from '../../core/mesh/statistics';
import { marksNow } from '../../core/mesh/marks';
import { Cancelled, type Outcome } from '../../core/recipe';
import { followDocument, type Followed } from '../../document/follow';
import type { Piece } from '../../document/types';
import type { Host, SentPiece, Task } from '../host';
import type {
  AskedAnchor,
  Edited,
  Focus,
  Flow,
  FoundAnchors,
  MeshArrays,
  PieceShown,
  TextureImages,
} from '../protocol';
import { defineCall } from './define';

interface ShowQuery {
  focus: Focus | null;
  textures: boolean;
  anchors: readonly AskedAnchor[];
  /** A step of the focused piece whose result is to be seen in the place of what it shows. */
  peek?: string | null;
  /** An attribute that the focused piece is to be coloured by. */
  coloured?: string | null;
  /** The attribute of the UV set that is worked on. */
  sheet?: string;
  /** Vertices, edges and faces are being picked: their arrays are needed on the page however many there are. */
  elements: boolean;
}

interface ShowAnswer {
  /** Buffers only where they are not what was sent before. */
  shown: PieceShown[];
  gone: string[];
  /** Undefined where it is as it was. */
  edited: Edited | null | undefined;
  anchors: FoundAnchors;
}

/**
 * What is to be seen now. What was sent is only noted once all of it is done: work that is overtaken half-way has sent
 * nothing.
 */
export const show = defineCall(async (host, query: ShowQuery, task): Promise<ShowAnswer> => {
  const { doc } = host;
  const there = new Set(doc.pieces.map((p) => p.id));
  const gone = [...host.sent.keys()].filter((id) => !there.has(id));
  const wanted = new Set(doc.pieces.flatMap((p) => (p.visible ? [p.link ?? p.id] : [])));
  const focus = query.focus;
  // The focused piece first: it is what the person looks at.
  const order = [
    ...doc.pieces.filter((p) => p.id === focus?.piece),
    ...doc.pieces.filter((p) => p.id !== focus?.piece),
  ];
  const followed = followDocument(doc, {
    memory: host.memory,
    blob: host.blob,
    cancelled: task.cancelled,
    beyond: true,
    progress: (piece, step, share) => task.progress({ piece, step, share }),
  });
  const shown: PieceShown[] = [];
  const sent = new Map<string, SentPiece>();
  let edited: EditedNow | null | undefined = focus ? undefined : null;
  for (const piece of order) {
    const focused = piece.id === focus?.piece;
    if (piece.kind !== 'mesh' || piece.link !== null || (!wanted.has(piece.id) && !focused)) continue;
    const result = peeked(await followed.piece(piece), focused ? query.peek : null);
    if (task.cancelled()) throw new Cancelled();
    if (result.shown) host.results.set(piece.id, result.shown.geometry);
    else host.results.delete(piece.id);
    const { picture, holds } = pictureOf(host, piece, result, query, focused, task);
    sent.set(piece.id, holds);
    shown.push(picture);
    if (focused) edited = editedNow(host, focus!, result, query);
    if (focused && query.elements && edited) handTopology(edited, task);
  }
  for (const id of gone) {
    host.sent.delete(id);
    host.results.delete(id);
  }
  for (const [id, holds] of sent) host.sent.set(id, holds);
  for (const { piece, hash, buffers, patch } of shown)
    if (buffers || patch) plantTree(host, piece, hash, patch ? 300 : 50);
  if (edited !== undefined) {
    host.edited = edited?.mesh;
    host.sentEdited = edited?.answer.hash ?? '';
  }
  return { shown, gone, edited: edited && edited.answer, anchors: findAnchors(host, query.anchors) };
});

/** With what one of its steps gives in the place of what it shows. */
function peeked(result: Followed, step: string | null | undefined): Followed {
  const at = step ? result.outcomes.find((o) => o.step === step) : undefined;
  return at ? { ...result, shown: at } : result;
}

const flowOf = (g: Geometry): Flow => ({
  faces: sizeOf(g).faces,
  points: g.mesh?.faceCount === 0 ? g.mesh.vertexCount : 0,
  curves: g.curves?.closed.length ?? 0,
  copies: g.copies?.of.length ?? 0,
});

function pictureOf(
  host: Host,
  piece: Piece,
  { outcomes, shown }: Followed,
  query: ShowQuery,
  focused: boolean,
  task: Task,
): { picture: PieceShown; holds: SentPiece } {
  const reports = outcomes.map(({ step, error, warnings, figures, took, geometry }) => ({
    step,
    error,
    warnings,
    figures,
    took,
    flow: flowOf(geometry),
  }));
  const texture = query.textures ? shown?.geometry.mesh?.textures : undefined;
  // Elements of copies are picked of the mesh that they would be.
  const coloured = focused ? (query.coloured ?? undefined) : undefined;
  // A texture is seen on its own set, all else on the one that is worked on.
  const wanted = texture ?? (focused ? { set: query.sheet } : {});
  const set = wanted.set ?? UV;
  const made = focused && (query.elements || coloured !== undefined) && shown?.geometry.copies !== undefined;
  const hash = shown ? [shown.hash, piece.smooth, Number(!!texture), Number(made), coloured, set].join('/') : 'empty';
  const out: PieceShown = { piece: piece.id, hash, reports };
  const { smooth } = piece;
  const all = shown?.geometry ?? NO_GEOMETRY;
  let geometry = made ? whole(all) : all;
  if (geometry.mesh && set !== UV) geometry = { ...geometry, mesh: withSetAhead(geometry.mesh, set) };
  const heat = coloured !== undefined && geometry.mesh ? inColoursOf(geometry.mesh, coloured) : undefined;
  if (heat) geometry = { ...geometry, mesh: heat.mesh };
  const had = host.sent.get(piece.id);
  const holds: SentPiece = {
    hash,
    geometry,
    smooth,
    texture: !!texture,
    copied: had?.copied,
    heat: heat !== undefined,
  };
  if (heat) out.heat = { name: coloured!, min: heat.min, max: heat.max };
  if (!shown || had?.hash === hash) return { picture: out, holds };
  const alike = had && !had.heat && !heat && had.smooth === smooth && !had.texture && !texture;
  const patch = alike ? patchGeometry(had.geometry, geometry, smooth) : null;
  if (patch) out.patch = { ...patch, base: had!.hash };
  else {
    out.buffers = displayGeometry(geometry, smooth);
    holds.copied = dressCopies(geometry, out.buffers, smooth, had?.copied);
  }
  task.transfer.push(...memoryOf(patch ?? out.buffers!));
  out.bounds = boundsOfGeometry(geometry) ?? { min: [0, 0, 0], max: [0, 0, 0] };
  if (texture) {
    out.texture = seenTexture(texture);
  }
  return { picture: out, holds };
}

/** Pixels along a picture that any graphics card takes. */
const WIDEST = 8192;

function seenTexture(texture: MeshTextures): TextureImages {
  const { name, size, sheets = 1, look = {} } = texture;
  const all = Array.from({ length: sheets }, (_, k) => texture.images(k));
  const [first] = all;
  const pictures = mapMaps<ImageData8, ImageData8>(first, (image, map) =>
    sideBySide(sheets, WIDEST, (k) => all[k][map] ?? image),
  );
  const { width, height } = pictures.color ?? first.color;
  return { name, size, sheets, width, height, look, pictures: mapMaps(pictures, (i) => i.data) };
}

const numbers = new WeakMap<Copied, number>();
let last = 0;
function numberOf(source: Copied): number {
  const had = numbers.get(source);
  if (had !== undefined) return had;
  numbers.set(source, ++last);
  return last;
}

/** Gives the sources of copies their own buffers, where the page does not hold them yet. Answers which it holds now. */
function dressCopies(
  { copies }: Geometry,
  buffers: DisplayBuffers,
  smooth: number,
  had: ReadonlySet<string> | undefined,
): ReadonlySet<string> | undefined {
  if (!copies || !buffers.copies) return undefined;
  const holds = new Set<string>();
  buffers.copies.forEach((c, i) => {
    const of = copies.sources[i];
    const source = `${numberOf(of)}/${smooth}`;
    holds.add(source);
    c.source = source;
    c.bounds = boundsOfGeometry(of) ?? undefined;
    if (!had?.has(source)) c.buffers = displayGeometry(of, smooth);
  });
  return holds;
}

interface EditedNow {
  mesh: Mesh;
  answer: Edited;
}

/** What the focused step gives; undefined where the page has it already. */
function editedNow(
  host: Host,
  focus: Focus,
  result: Followed,
  { elements, sheet = UV }: ShowQuery,
): EditedNow | null | undefined {
  const { shown, outcomes } = result;
  const found = focus.step === null ? shown : outcomes.find((x) => x.step === focus.step);
  if (!found) return null;
  const at = sheet === UV ? found : { ...found, mesh: withSetAhead(found.mesh, sheet) };
  if (!elements && at.geometry.copies) return ofCopies(focus, at, host);
  const light = !elements && at.mesh.faceCount > LIGHT_FROM;
  const key = `${focus.piece}/${at.step}/${at.hash}/${shown?.hash}/${sheet}/${light}`;
  if (key === host.sentEdited && host.edited === at.mesh) return undefined;
  const before = host.edited && host.sentEdited.startsWith(`${focus.piece}/`) && !host.sentEdited.endsWith('/true');
  return {
    mesh: at.mesh,
    answer: editedOf(focus.piece, at, key, shown?.mesh, light, before ? host.edited : undefined),
  };
}

/**
 * Where copies are looked at as such, what they would be as one mesh is only counted: making it would cost more than
 * all the rest.
 */
function ofCopies(focus: Focus, at: Outcome, host: Host): EditedNow | undefined {
  const key = `${focus.piece}/${at.step}/${at.hash}/copies`;
  if (key === host.sentEdited) return undefined;
  const bounds = boundsOfGeometry(at.geometry) ?? { min: [0, 0, 0], max: [0, 0, 0] };
  const answer: Edited = {
    piece: focus.piece,
    step: at.step,
    hash: key,
    shape: shapeOfGeometry(at.geometry),
    bounds,
    same: true,
    lines: new Float32Array(0),
    ink: new Float32Array(0),
  };
  return { mesh: emptyMesh(), answer };
}

/** A copy, for the page: handed over, so that neither side is held up by copying it again. */
function handTopology({ mesh, answer }: EditedNow, task: Task): void {
  if (!answer.mesh || mesh.faceCount < TOPOLOGY_FROM) return;
  const { edgeCount, ...arrays } = topologyOf(mesh);
  const copy = Object.fromEntries(Object.entries(arrays).map(([name, a]) => [name, a.slice()])) as typeof arrays;
  answer.mesh.topology = { edgeCount, ...copy };
  task.transfer.push(...memoryOf(copy));
}
/** Below this many faces the page derives it as soon. */
const TOPOLOGY_FROM = 30_000;

function findAnchors(host: Host, asked: readonly AskedAnchor[]): FoundAnchors {
  const out: FoundAnchors = {};
  for (const a of asked) {
    const mesh = host.results.get(a.piece)?.mesh;
    out[a.name] = mesh ? findAnchor(mesh, a) : null;
  }
  return out;
}

/**
 * Above this many faces, arrays of elements go to the page only when elements are picked: taking them apart there would
 * hold it up.
 */
const LIGHT_FROM = 120000;
/** Below this a ray over all triangles is quick enough. */
const TREE_FROM = 20000;
/**
 * Trees are made after the picture has been sent, one at a time, and only for what is still shown, so not while
 * something is dragged.
 */
function plantTree(host: Host, piece: string, hash: string, after: number): void {
  const { geometry, smooth } = host.sent.get(piece)!;
  if (!geometry.mesh || triangleCount(geometry.mesh) < TREE_FROM) return;
  setTimeout(() => {
    if (host.sent.get(piece)?.hash !== hash) return;
    const { position, index } = displayGeometry(geometry, smooth);
    void import('../tree').then(({ makeTree }) => {
      const { roots, indirect } = makeTree(position, index);
      host.note({ tree: { piece, hash, roots, indirect } }, [...roots, indirect.buffer as ArrayBuffer]);
    });
  }, after);
}

const sameKeys = (a: Mesh, b: Mesh): boolean =>
  a.vertexKey === b.vertexKey &&
  a.faceKey === b.faceKey &&
  a.groups === b.groups &&
  a.marks === b.marks &&
  a.attributes.group?.data === b.attributes.group?.data;

function editedOf(
  piece: string,
  { step, mesh }: Outcome,
  hash: string,
  result: Mesh | undefined,
  light: boolean,
  before: Mesh | undefined,
): Edited {
  const same = !!result && result.cornerVertex === mesh.cornerVertex && result.positions === mesh.positions;
  if (light)
    return {
      piece,
      step,
      hash,
      shape: shapeOf(mesh),
      bounds: boundsOfMesh(mesh),
      same: true,
      lines: new Float32Array(0),
      ink: new Float32Array(0),
    };
  // Lines are only drawn where they are not the piece's own.
  const { edgePosition, edgeInk } = same
    ? { edgePosition: new Float32Array(0), edgeInk: new Float32Array(0) }
    : edgeBuffers(mesh);
  const found = {
    piece,
    step,
    hash,
    shape: shapeOf(mesh),
    bounds: boundsOfMesh(mesh),
    same,
    lines: edgePosition,
    ink: edgeInk,
  };
  const moved = before && sameKeys(before, mesh) ? movedVertices(before, mesh) : null;
  if (moved) {
    const positions = new Float32Array(3 * moved.length);
    moved.forEach((v, i) => positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i));
    return { ...found, moved: { vertices: moved, positions } };
  }
  const arrays: MeshArrays = {
    positions: mesh.positions,
    faceStart: mesh.faceStart,
    cornerVertex: mesh.cornerVertex,
    vertexKey: mesh.vertexKey,
    faceKey: mesh.faceKey,
    slots: mesh.slots,
    ...(mesh.marks ? { marked: marksNow(mesh) } : {}),
    groups: mesh.groups,
  };
  const uv = mesh.attributes[UV]?.data;
  const slot = mesh.attributes.material?.data;
  if (uv instanceof Float32Array) arrays.uv = uv;
  if (slot instanceof Int32Array) arrays.slot = slot;
  const group = mesh.attributes.group?.data;
  if (group instanceof Int32Array) arrays.group = group;
  return { ...found, mesh: arrays };
}
