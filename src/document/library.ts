/** Library items: a part of a document that stands on its own, and how it goes into a project. */
import * as changes from './changes';
import type { Draft } from './pieces';
import { checkDocument } from './schema';
import type { Material, Piece, ProjectDocument, ProjectImage, Step } from './types';

export type LibraryKind = 'material' | 'image' | 'piece' | 'arrangement';
export const LIBRARY_KINDS: readonly (readonly [LibraryKind, string])[] = [
  ['material', 'Materials'],
  ['image', 'Images'],
  ['piece', 'Pieces'],
  ['arrangement', 'Arrangements'],
];

export interface LibraryContent {
  pieces: Piece[];
  materials: Material[];
  images: ProjectImage[];
}
export interface LibraryEntry {
  id: string;
  kind: LibraryKind;
  name: string;
  tags: string[];
  changedAt: string;
  usedIn: number;
}

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Everything that strings in a value name, of a set of ids. */
function named(value: unknown, ids: ReadonlySet<string>, out: Set<string>): void {
  if (typeof value === 'string') {
    if (ids.has(value)) out.add(value);
  } else if (Array.isArray(value)) {
    if (typeof value[0] !== 'number') for (const v of value) named(v, ids, out);
  } else if (typeof value === 'object' && value !== null) for (const v of Object.values(value)) named(v, ids, out);
}

function renamed<T>(value: T, to: ReadonlyMap<string, string>): T {
  if (typeof value === 'string') return (to.get(value) ?? value) as T;
  if (Array.isArray(value))
    return (typeof value[0] === 'number' ? value : value.map((v: unknown) => renamed(v, to))) as T;
  if (typeof value === 'object' && value !== null)
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, renamed(v, to)])) as T;
  return value;
}

/** Pieces with all in them, and the materials and pictures they need. Copies linked to what stays behind get recipes of their own. */
export function contentOfPieces(doc: ProjectDocument, ids: readonly string[]): LibraryContent {
  const tops = changes.topmost(doc, ids),
    tree = changes.withChildren(doc, tops),
    inside = new Set(doc.pieces.filter((p) => tree.has(p.id)).map((p) => p.id));
  const pieces = doc.pieces
    .filter((p) => inside.has(p.id))
    .map((p): Piece => {
      const own = plain(p),
        parent = own.parent !== null && inside.has(own.parent) ? own.parent : null;
      if (own.link === null || inside.has(own.link)) return { ...own, parent };
      const source = plain(changes.sourceOf(doc, p));
      return { ...own, parent, link: null, recipe: source.recipe, upTo: source.upTo, smooth: source.smooth };
    });
  const used = new Set<string>();
  named(
    pieces.map((p) => p.recipe),
    new Set(doc.materials.map((m) => m.id)),
    used,
  );
  const materials = doc.materials.filter((m) => used.has(m.id)).map(plain),
    pictures = new Set<string>();
  named(
    [materials.map((m) => m.maps), pieces.map((p) => p.blueprint?.image)],
    new Set(doc.images.map((i) => i.id)),
    pictures,
  );
  return { pieces, materials, images: doc.images.filter((i) => pictures.has(i.id)).map(plain) };
}

export function contentOfMaterial(doc: ProjectDocument, id: string): LibraryContent {
  const materials = doc.materials.filter((m) => m.id === id).map(plain);
  return {
    pieces: [],
    materials,
    images: doc.images
      .filter((i) => materials.some((m) => m.maps?.color === i.id || m.maps?.surface === i.id))
      .map(plain),
  };
}

export const contentOfImage = (doc: ProjectDocument, id: string): LibraryContent => ({
  pieces: [],
  materials: [],
  images: doc.images.filter((i) => i.id === id).map(plain),
});

/** An item as a document of its own: for checking, and for its picture. */
export const asDocument = (name: string, c: LibraryContent): ProjectDocument => ({
  ...changes.newProject(name),
  pieces: c.pieces,
  materials: c.materials,
  images: c.images,
});

export const checkContent = (name: string, value: LibraryContent): LibraryContent => {
  const d = checkDocument(asDocument(name, value));
  return { pieces: d.pieces, materials: d.materials, images: d.images };
};

/**
 * Puts an item into a document. Pictures and materials that are there already, the same in all but their id, are used again. Answers the
 * ids of the top pieces.
 */
export function insertContent(doc: Draft, content: LibraryContent, makeId: () => string = changes.newId): string[] {
  const to = new Map<string, string>(),
    same = (a: object, b: object) => JSON.stringify({ ...a, id: '' }) === JSON.stringify({ ...b, id: '' });
  for (const i of content.images) {
    const had = doc.images.find((x) => same(plain(x), i));
    to.set(i.id, had?.id ?? makeId());
    if (!had) changes.addImage(doc, { ...plain(i), id: to.get(i.id)! });
  }
  for (const m of content.materials) {
    const own = renamed(plain(m), to),
      had = doc.materials.find((x) => same(plain(x), own));
    to.set(m.id, had?.id ?? makeId());
    if (!had) changes.addMaterial(doc, { ...own, id: to.get(m.id)! });
  }
  for (const p of content.pieces) to.set(p.id, makeId());
  const tops: string[] = [];
  for (const p of content.pieces) {
    // Step ids seed keys and stay as they are: picks inside the recipe find the same places.
    const recipe = p.recipe.map((s): Step => ({ ...plain(s), values: renamed(plain(s.values), to) })),
      id = to.get(p.id)!;
    doc.pieces.push({
      ...plain(p),
      id,
      name: changes.uniqueName(doc, p.name),
      parent: p.parent === null ? null : to.get(p.parent)!,
      link: p.link === null ? null : to.get(p.link)!,
      recipe,
      ...(p.blueprint ? { blueprint: renamed(plain(p.blueprint), to) } : {}),
    });
    if (p.parent === null) tops.push(id);
  }
  return tops;
}
