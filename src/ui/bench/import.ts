/** Bringing in models: parsed in the worker, kept as a blob, each piece a recipe that starts with the file. */
import * as changes from '../../document/changes';
import { api } from '../parts/api';
import { focusPiece } from './actions';
import { session } from './session';
import { bench } from './store';

const MOST = 512 * 1024 * 1024;

export async function importFiles(files: File[]): Promise<void> {
  const say = (text: string) => bench.set({ say: text });
  const models = files.filter((f) => /\.(obj|glb|zip)$/i.test(f.name)), beside = files.filter((f) => !models.includes(f));
  if (models.length === 0) { if (files.length) say(`${files[0].name} is not a model that can be read; OBJ, GLB and ZIP can.`); return; }
  for (const file of models) {
    if (file.size > MOST) { say(`${file.name} is larger than 512 MB, the most that can be brought in.`); continue; }
    try {
      say(`Reading ${file.name} …`);
      const bytes = new Uint8Array(await file.arrayBuffer());
      const sides: [string, Uint8Array][] = await Promise.all(beside.map(async (f) => [f.name, new Uint8Array(await f.arrayBuffer())] as [string, Uint8Array]));
      const r = await session.worker!.ask('import', { name: file.name, bytes, beside: sides });
      if (!('imported' in r)) continue;
      const blob = await api<{ sha: string }>('/api/blobs', { body: file, headers: { 'Content-Type': 'application/octet-stream' } });
      const slots = new Map(r.imported.materials.map((m) => [m.id, changes.newId()]));
      let first = '';
      session.change(`bring in ${file.name}`, (d) => {
        for (const m of r.imported.materials) changes.addMaterial(d, { ...m, id: slots.get(m.id)! });
        const group = r.imported.pieces.length > 1 ? changes.newId() : null;
        if (group) changes.addGroup(d, group, file.name.replace(/\.[^.]*$/, ''));
        for (const p of r.imported.pieces) {
          const id = changes.newId();
          first ||= id;
          changes.addPiece(d, id, p.name, group);
          changes.addStep(d, id, 'brought-in', changes.newId(), { file: file.name, piece: p.name, item: p.item, blob: blob.sha, slots: Object.fromEntries(p.slots.map((x) => [x, slots.get(x) ?? x])) });
        }
      });
      if (first) focusPiece(first);
      const w = r.imported.warnings;
      say(`${file.name}: ${r.imported.pieces.length} ${r.imported.pieces.length === 1 ? 'piece' : 'pieces'}, ${r.imported.pieces.reduce((n, p) => n + p.faces, 0).toLocaleString('en')} faces.${w.length ? ` ${w[0]}${w.length > 1 ? ` And ${w.length - 1} more.` : ''}` : ''}`);
    } catch (e) { say((e as Error).message); }
  }
}
