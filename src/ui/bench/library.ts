/** The bench and the library: keeping things there, and putting them into the project. */
import { writeBundle } from '../../document/bundle';
import {
  asDocument,
  contentOfImage,
  contentOfMaterial,
  contentOfPieces,
  insertContent,
  type LibraryContent,
  type LibraryEntry,
  type LibraryKind,
} from '../../document/library';
import { newId, topmost } from '../../document/changes';
import { nextEdition, takeEdition } from '../../document/kits';
import { blobsOf } from '../../document/references';
import type { Edition } from '../../document/types';
import { useEffect, useState } from 'react';
import { api } from '../parts/api';
import { saveFile } from '../parts/handover';
import { pickedPieces, pickPieces } from './pieceActions';
import { session } from './session';
import { bench } from './store';

/** Counts what was kept, so that an open drawer looks again. */
let told: () => void = () => undefined;
export const onKept = (f: () => void): void => {
  told = f;
};

async function keepContent(kind: LibraryKind, name: string, content: LibraryContent): Promise<void> {
  try {
    await api('/api/library', { json: { kind, name, tags: [], content } });
    bench.set({ say: `“${name}” is in the library now.` });
    told();
  } catch (e) {
    bench.set({ say: (e as Error).message });
  }
}

export async function keepPicked(): Promise<void> {
  const doc = bench.get().document;
  const ids = pickedPieces();
  if (!doc || ids.length === 0) {
    bench.set({ say: 'Pick what to keep first.' });
    return;
  }
  const tops = topmost(doc, ids);
  const first = doc.pieces.find((p) => p.id === tops[0])!;
  if (tops.length > 1 || first.kind !== 'mesh') {
    const content = contentOfPieces(doc, ids);
    await keepContent(content.pieces.length > 1 ? 'arrangement' : 'piece', first.name, content);
    return;
  }
  // One piece is a kit for whoever takes it from there: what is kept again under the same kit is its next edition.
  try {
    const { items } = await api<{ items: LibraryEntry[] }>('/api/library');
    let edition: Edition | undefined;
    session.change(`keep an edition of ${first.name}`, (d) => {
      edition = nextEdition(
        d,
        first.id,
        items.map((i) => i.edition),
        newId(),
      );
    });
    const now = bench.get().document!;
    await keepContent('piece', first.name, {
      ...contentOfPieces(now, [first.id]),
      edition: now.pieces.find((p) => p.id === first.id)!.edition,
    });
    if (edition!.number > 1) bench.set({ say: `Edition ${edition!.number} of “${first.name}” is in the library now.` });
  } catch (e) {
    bench.set({ say: (e as Error).message });
  }
}

/** Another edition of a kit, from the library, in the place of the piece that it is here. */
export async function takeEditionOf(piece: string, item: string): Promise<void> {
  try {
    const { content } = await api<{ content: LibraryContent }>(`/api/library/${item}`);
    await api(`/api/library/${item}/use`, { json: { project: session.project } });
    session.change(`take edition ${content.edition?.number ?? ''}`, (d) => takeEdition(d, piece, content));
    bench.set({ say: `Edition ${content.edition?.number ?? ''} is here now; what placements turned stays turned.` });
  } catch (e) {
    bench.set({ say: (e as Error).message });
  }
}

/** The editions of a kit that the library has, the newest first; undefined until they are known. */
export function useEditions(kit: string | undefined): { id: string; number: number }[] | undefined {
  const [found, setFound] = useState<{ id: string; number: number }[]>();
  useEffect(() => {
    if (!kit) return undefined;
    let gone = false;
    api<{ items: LibraryEntry[] }>('/api/library').then(
      ({ items }) => {
        const own = items.flatMap((i) => (i.edition?.kit === kit ? [{ id: i.id, number: i.edition.number }] : []));
        if (!gone) setFound(own.sort((a, b) => b.number - a.number));
      },
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [kit]);
  return found;
}

/**
 * What is picked as one file of its own, with the pieces, dials, materials and files it needs. Dropped on a project it
 * goes in there.
 */
export async function savePicked(): Promise<void> {
  const doc = bench.get().document;
  const ids = pickedPieces();
  if (!doc || ids.length === 0) {
    bench.set({ say: 'Pick what to save first.' });
    return;
  }
  const { name } = doc.pieces.find((p) => p.id === ids[0])!;
  try {
    const own = { ...asDocument(name, contentOfPieces(doc, ids)), units: doc.units, purpose: doc.purpose };
    const files = new Map<string, Uint8Array>();
    for (const sha of blobsOf(own)) {
      const r = await fetch(`/api/blobs/${sha}`);
      if (!r.ok) throw new Error('A file that it uses could not be fetched.');
      files.set(sha, new Uint8Array(await r.arrayBuffer()));
    }
    saveFile(`${name}.zip`, writeBundle(own, files), 'application/zip');
    bench.set({ say: `${name}.zip is on its way to your downloads: drop it on any project.` });
  } catch (e) {
    bench.set({ say: (e as Error).message });
  }
}

export async function keepMaterial(id: string): Promise<void> {
  const doc = bench.get().document;
  const m = doc?.materials.find((x) => x.id === id);
  if (doc && m) await keepContent('material', m.name, contentOfMaterial(doc, id));
}

export async function keepImage(id: string): Promise<void> {
  const doc = bench.get().document;
  const i = doc?.images.find((x) => x.id === id);
  if (doc && i) await keepContent('image', i.name, contentOfImage(doc, id));
}

/** Puts an item into the project as one change, and tells the library that it is used here. */
export async function insertItem(id: string): Promise<void> {
  try {
    const { name, content } = await api<{ kind: LibraryKind; name: string; content: LibraryContent }>(
      `/api/library/${id}`,
    );
    await api(`/api/library/${id}/use`, { json: { project: session.project } });
    let tops: string[] = [];
    session.change(`insert ${name}`, (d) => {
      tops = insertContent(d, content);
    });
    if (tops.length) pickPieces(tops);
    bench.set({
      say: tops.length
        ? `Inserted ${name}.`
        : `${name} is among this project’s ${content.materials.length ? 'materials' : 'pictures'} now.`,
    });
    told();
  } catch (e) {
    bench.set({ say: (e as Error).message });
  }
}
