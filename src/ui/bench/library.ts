/** The bench and the library: keeping things there, and putting them into the project. */
import { writeBundle } from '../../document/bundle';
import {
  asDocument,
  contentOfImage,
  contentOfMaterial,
  contentOfPieces,
  insertContent,
  type LibraryContent,
  type LibraryKind,
} from '../../document/library';
import { blobsOf } from '../../document/references';
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
  const content = contentOfPieces(doc, ids);
  const first = doc.pieces.find((p) => p.id === ids[0])!;
  await keepContent(content.pieces.length > 1 ? 'arrangement' : 'piece', first.name, content);
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
