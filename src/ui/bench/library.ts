/** The bench and the library: keeping things there, and putting them into the project. */
import {
  contentOfImage,
  contentOfMaterial,
  contentOfPieces,
  insertContent,
  type LibraryContent,
  type LibraryKind,
} from '../../document/library';
import { api } from '../parts/api';
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
