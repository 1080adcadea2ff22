/** Library items: a part of a document that stands on its own, and how it goes into a project. */
import * as changes from './changes';
import type { Draft } from './tree';
import { checkDocument } from './schema';
import { dialsNamed, withFreshIds } from './dials';
import { referencesIn, referencesOfDials, renameInDials, renameReferences } from './references';
import type { Reference } from '../core/recipe';
import { FORMAT, type Edition, type Material, type Piece, type ProjectDocument, type ProjectImage } from './types';

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
  /** Of the document it comes from; the first items did not say it, and were of the second. */
  format?: number;
  /** Of the one piece that it is for. */
  edition?: Edition;
}
export interface LibraryEntry {
  id: string;
  kind: LibraryKind;
  name: string;
  tags: string[];
  changedAt: string;
  usedIn: number;
  edition?: Edition;
}

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/**
 * Pieces with all in them, and the materials and pictures they need. Copies linked to what stays behind get recipes of
 * their own.
 */
export function contentOfPieces(doc: ProjectDocument, ids: readonly string[]): LibraryContent {
  const tops = changes.topmost(doc, ids);
  const tree = changes.withChildren(doc, tops);
  const inside = new Set(doc.pieces.filter((p) => tree.has(p.id)).map((p) => p.id));
  const needed = takenIn(doc, inside);
  const pieces = doc.pieces
    .filter((p) => inside.has(p.id))
    .map((p): Piece => {
      const own = { ...plain(p), ...withDials(doc, p, inside) };
      if (needed.has(p.id)) own.visible = false;
      const parent = own.parent !== null && inside.has(own.parent) ? own.parent : null;
      if (own.link === null || inside.has(own.link)) return { ...own, parent };
      const source = plain(changes.sourceOf(doc, p));
      return { ...own, parent, link: null, recipe: source.recipe, upTo: source.upTo, smooth: source.smooth };
    });
  const used = new Set(
    pieces
      .flatMap((p) => [...referencesIn(p.recipe), ...referencesOfDials(p.dials ?? [])])
      .flatMap((r) => (r.to === 'material' ? [r.id] : [])),
  );
  const materials = doc.materials.filter((m) => used.has(m.id)).map(plain);
  const pictures = new Set([
    ...pieces.flatMap((p) => referencesOfDials(p.dials ?? [])).flatMap((r) => (r.to === 'image' ? [r.id] : [])),
    ...materials.flatMap((m) => Object.values(m.maps ?? {})),
    ...pieces.flatMap((p) => (p.blueprint ? [p.blueprint.image] : [])),
  ]);
  return { format: FORMAT, pieces, materials, images: doc.images.filter((i) => pictures.has(i.id)).map(plain) };
}

const namedBy = (doc: ProjectDocument, p: Piece): Reference[] => [
  ...referencesIn(p.recipe),
  ...referencesOfDials(dialsNamed(doc, p)),
];

/**
 * Adds the pieces that recipes name, by whatever way: kits, what is stacked or joined. They come along unseen. Answers
 * which were added.
 */
function takenIn(doc: ProjectDocument, inside: Set<string>): Set<string> {
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  const added = new Set<string>();
  const next = [...inside];
  for (let id = next.pop(); id !== undefined; id = next.pop())
    for (const r of namedBy(doc, changes.sourceOf(doc, by.get(id)!))) {
      if (r.to !== 'piece' || inside.has(r.id) || !by.has(r.id)) continue;
      inside.add(r.id);
      added.add(r.id);
      next.push(r.id);
    }
  return added;
}

/** With the dials that its formulas name, but for those that come along with a group above it. */
function withDials(doc: ProjectDocument, piece: Piece, inside: ReadonlySet<string>): { dials?: Piece['dials'] } {
  if (piece.kind !== 'mesh') return {};
  const source = changes.sourceOf(doc, piece);
  const above = new Set<string>();
  for (let p = doc.pieces.find((x) => x.id === piece.parent); p && inside.has(p.id);) {
    for (const d of p.dials ?? []) above.add(d.id);
    const { parent } = p;
    p = doc.pieces.find((x) => x.id === parent);
  }
  const named = dialsNamed(doc, source).filter((d) => !above.has(d.id));
  return named.length > 0 ? { dials: named.map(plain) } : {};
}

export function contentOfMaterial(doc: ProjectDocument, id: string): LibraryContent {
  const materials = doc.materials.filter((m) => m.id === id).map(plain);
  return {
    format: FORMAT,
    pieces: [],
    materials,
    images: doc.images.filter((i) => materials.some((m) => Object.values(m.maps ?? {}).includes(i.id))).map(plain),
  };
}

export const contentOfImage = (doc: ProjectDocument, id: string): LibraryContent => ({
  format: FORMAT,
  pieces: [],
  materials: [],
  images: doc.images.filter((i) => i.id === id).map(plain),
});

/** An item as a document of its own: for checking, and for its picture. */
export const asDocument = (name: string, c: LibraryContent): ProjectDocument => ({
  ...changes.newProject(name),
  format: (c.format ?? 2) as typeof FORMAT,
  pieces: c.pieces,
  materials: c.materials,
  images: c.images,
});

export const checkContent = (name: string, value: LibraryContent): LibraryContent => {
  const d = checkDocument(asDocument(name, value));
  const { edition } = value;
  const known = edition !== undefined && d.pieces.some((p) => isSameEdition(p.edition, edition));
  return {
    format: d.format,
    pieces: d.pieces,
    materials: d.materials,
    images: d.images,
    ...(known ? { edition } : {}),
  };
};

export const isSameEdition = (a: Edition | undefined, b: Edition | undefined): boolean =>
  a !== undefined && b !== undefined && a.kit === b.kit && a.number === b.number;

/**
 * Puts an item into a document. Pictures and materials that are there already, the same in all but their id, are used
 * again. Answers the ids of the top pieces.
 */
export function insertContent(doc: Draft, content: LibraryContent, makeId: () => string = changes.newId): string[] {
  const to = new Map<string, string>();
  const same = (a: object, b: object) => JSON.stringify({ ...a, id: '' }) === JSON.stringify({ ...b, id: '' });
  for (const i of content.images) {
    const had = doc.images.find((x) => same(plain(x), i));
    to.set(i.id, had?.id ?? makeId());
    if (!had) changes.addImage(doc, { ...plain(i), id: to.get(i.id)! });
  }
  for (const m of content.materials) {
    const own = plain(m);
    if (own.maps) own.maps = Object.fromEntries(Object.entries(own.maps).map(([k, id]) => [k, to.get(id) ?? id]));
    const had = doc.materials.find((x) => same(plain(x), own));
    to.set(m.id, had?.id ?? makeId());
    if (!had) changes.addMaterial(doc, { ...own, id: to.get(m.id)! });
  }
  for (const p of content.pieces) to.set(p.id, makeId());
  const tops: string[] = [];
  for (const p of content.pieces) {
    // Step ids seed keys and stay as they are: picks inside the recipe find the same places.
    const recipe = renameReferences(p.recipe.map(plain), (r) => to.get(r.id) ?? r.id);
    const id = to.get(p.id)!;
    doc.pieces.push({
      ...plain(p),
      id,
      name: changes.uniqueName(doc, p.name),
      parent: p.parent === null ? null : to.get(p.parent)!,
      link: p.link === null ? null : to.get(p.link)!,
      recipe,
      ...(p.dials
        ? {
            dials: withFreshIds(
              renameInDials(plain(p.dials), (r) => to.get(r.id) ?? r.id),
              makeId,
            ),
          }
        : {}),
      ...(p.blueprint
        ? { blueprint: { ...plain(p.blueprint), image: to.get(p.blueprint.image) ?? p.blueprint.image } }
        : {}),
    });
    if (p.parent === null && (p.visible || content.pieces.length === 1)) tops.push(id);
  }
  return tops;
}
