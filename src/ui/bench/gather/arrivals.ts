/**
 * Bringing in: what was dropped is read in a worker of its own, kept as blobs, and becomes pieces, blueprints and
 * pictures in one change.
 */
import { newBlueprint, sideTurn } from '../../../core/blueprint/blueprint';
import { lookOf, mapMaps } from '../../../core/material';
import { placeOf } from '../../../core/math/affine';
import { holdsProject, readProject } from '../../../document/bundle';
import * as changes from '../../../document/changes';
import { contentOfPieces, insertContent } from '../../../document/library';
import type { IntakeMessage } from '../../../workers/intake.worker';
import type { ReadDrop, ReadModel, ReadPicture } from '../../../workers/intake';
import { keepBlob } from '../../parts/api';
import { focusPiece } from '../actions';
import { session } from '../session';
import { bench, type Arrival } from '../store';
import { decoded, rasterise } from './rasterise';

const MOST = 512 * 1024 * 1024;
const workers = new Map<string, Worker>();

const update = (id: string, part: Partial<Arrival>): void =>
  bench.set((s) => ({ arrivals: s.arrivals.map((a) => (a.id === id ? { ...a, ...part } : a)) }));

export function stopArrival(id: string): void {
  workers.get(id)?.terminate();
  workers.delete(id);
  update(id, { state: 'stopped' });
}

export const forgetArrival = (id: string): void =>
  bench.set((s) => ({ arrivals: s.arrivals.filter((a) => a.id !== id) }));

/** Everything of one drop. `curves`: drawings come in as curves rather than as blueprints. */
export async function importFiles(files: File[], curves = false): Promise<void> {
  if (files.length === 0) return;
  const id = changes.newId();
  const refused: string[] = [];
  const read: [string, Uint8Array<ArrayBuffer>][] = [];
  const arrival: Arrival = {
    id,
    names: files.length === 1 ? files[0].name : `${files[0].name} and ${files.length - 1} more`,
    state: 'reading',
    file: files[0].name,
    share: 0,
    reports: [],
    notes: [],
    refused,
    drawings: [],
  };
  bench.set((s) => ({ arrivals: [arrival, ...s.arrivals].slice(0, 12), say: `Reading ${arrival.names} …` }));
  for (const f of files) {
    if (f.size > MOST) refused.push(`${f.name} is larger than 512 MB, the most that can be brought in.`);
    else
      try {
        read.push([f.name, new Uint8Array(await f.arrayBuffer())]);
      } catch {
        refused.push(`${f.name} could not be read from the disk.`);
      }
  }
  try {
    const others: typeof read = [];
    for (const [name, bytes] of read)
      if (!isBundle(name, bytes) || !(await bringProject(id, name, bytes))) others.push([name, bytes]);
    if (others.length === 0 && refused.length === 0) return;
    const drop = await readInWorker(id, others);
    drop.refused.unshift(...refused);
    update(id, { state: 'keeping', share: 0.9, refused: drop.refused });
    await keep(id, drop, curves);
  } catch (e) {
    if (bench.get().arrivals.find((a) => a.id === id)?.state === 'stopped') {
      bench.set({ say: `${arrival.names} was left outside.` });
      return;
    }
    update(id, { state: 'failed', refused: [...refused, (e as Error).message] });
    bench.set({ say: (e as Error).message });
  }
}

const isBundle = (name: string, bytes: Uint8Array): boolean =>
  name.toLowerCase().endsWith('.zip') && holdsProject(bytes);

/** Pieces of a project's or a kit's file, put into this one with all they need. Answers whether it was one. */
async function bringProject(id: string, name: string, bytes: Uint8Array): Promise<boolean> {
  const { document, files } = readProject(bytes, name);
  for (const [sha, file] of files)
    if ((await keepBlob(file)) !== sha) throw new Error(`A file within ${name} is damaged.`);
  let tops: string[] = [];
  session.change(`bring in ${document.name}`, (d) => {
    tops = insertContent(
      d,
      contentOfPieces(
        document,
        document.pieces.map((p) => p.id),
      ),
    );
  });
  update(id, { state: 'done', share: 1 });
  const brought = `${tops.length} ${tops.length === 1 ? 'piece' : 'pieces'}`;
  bench.set({ say: `${name}: ${brought} of ${document.name} are in this project now.` });
  if (tops[0]) focusPiece(tops[0]);
  return true;
}

/** Far longer than any reader takes (a gigabyte in about a minute): milliseconds. */
const PATIENCE = 60_000;
const PATIENCE_PER_BYTE = 0.0005;

function readInWorker(id: string, files: [string, Uint8Array<ArrayBuffer>][]): Promise<ReadDrop> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('../../../workers/intake.worker.ts', import.meta.url), { type: 'module' });
    workers.set(id, worker);
    const bytes = files.reduce((sum, [, b]) => sum + b.length, 0);
    const patience = setTimeout(
      () => {
        end();
        reject(new Error('Reading took too long and was given up: something in it leads nowhere.'));
      },
      PATIENCE + PATIENCE_PER_BYTE * bytes,
    );
    const end = () => {
      clearTimeout(patience);
      worker.terminate();
      workers.delete(id);
    };
    worker.onmessage = (e: MessageEvent<IntakeMessage>) => {
      if ('progress' in e.data) {
        update(id, e.data.progress);
        return;
      }
      end();
      if ('done' in e.data) resolve(e.data.done);
      else reject(new Error(e.data.failed));
    };
    worker.onerror = (e) => {
      end();
      reject(new Error(e.message || 'The reader stopped: there may not be enough memory for a file of this size.'));
    };
    worker.postMessage(
      files,
      files.map(([, b]) => b.buffer),
    );
  });
}

/** Stores the files, then puts everything into the document by one change. */
async function keep(id: string, drop: ReadDrop, curves: boolean): Promise<void> {
  const edits: ((d: changes.Draft) => void)[] = [];
  const reports: Arrival['reports'] = [];
  const notes: string[] = [];
  const drawings: Arrival['drawings'] = [];
  const touched: string[] = [];
  for (const m of drop.models) {
    const sha = await keepBlob(m.stored);
    const images = new Map<number, string>();
    const blobs = await Promise.all(m.images.map((i) => keepBlob(i.bytes, i.mime)));
    m.images.forEach((_, n) => images.set(n, changes.newId()));
    // The bench worker gets the bytes themselves: it need not fetch what was here a moment ago.
    await session.crew?.ask('keep', { sha, bytes: m.stored }, { transfer: [m.stored.buffer as ArrayBuffer] });
    const ids = m.pieces.map(() => changes.newId());
    touched.push(...ids);
    reports.push({ ...m.intake, pieceIds: ids.filter((_, i) => m.pieces[i].item >= 0) });
    edits.push((d) => bringModel(d, m, sha, ids, blobs, images));
  }
  for (const p of drop.pictures) {
    if (p.kind === 'svg' && curves) {
      const model = await asCurves(p);
      if (model) {
        edits.push(model.edit);
        touched.push(model.piece);
        notes.push(`${p.name} came in as curves.`);
      }
      continue;
    }
    try {
      const shown = p.kind === 'image' ? await decoded(p) : await rasterise(p);
      const sha = await keepBlob(shown.bytes, shown.mime);
      const image = changes.newId();
      const piece = changes.newId();
      if (p.kind === 'svg') drawings.push({ name: p.name, bytes: p.bytes });
      // Several stand beside each other, not in one place.
      const aside = 1.1 * notes.length;
      touched.push(piece);
      notes.push(
        `${p.name}: a blueprint, ${shown.width} × ${shown.height} ` +
          `px${p.kind === 'pdf' ? ' (its first page)' : ''}. True it up to give it its scale.`,
      );
      edits.push((d) => {
        changes.addImage(d, {
          id: image,
          name: p.name,
          blob: sha,
          mime: shown.mime,
          width: shown.width,
          height: shown.height,
          bits: 8,
          use: 'picture',
        });
        changes.addBlueprint(
          d,
          piece,
          p.name.replace(/\.[^.]*$/, ''),
          newBlueprint(image, shown.width, shown.height),
          sideTurn('front'),
        );
        if (aside) changes.setPlace(d, piece, { at: [aside, 0, 0] });
      });
    } catch (e) {
      drop.refused.push((e as Error).message);
    }
  }
  for (const h of drop.heights) {
    const sha = await keepBlob(h.bytes, h.mime);
    const image = changes.newId();
    notes.push(`${h.name}: heights, ${h.width} × ${h.height} at ${h.bits} bits, kept among the project’s pictures.`);
    edits.push((d) =>
      changes.addImage(d, {
        id: image,
        name: h.name,
        blob: sha,
        mime: h.mime,
        width: h.width,
        height: h.height,
        bits: h.bits,
        use: 'height',
      }),
    );
  }
  if (edits.length) {
    const what = drop.models[0]?.name ?? drop.pictures[0]?.name ?? drop.heights[0]?.name ?? 'files';
    session.change(`bring in ${what}`, (d) => {
      for (const e of edits) e(d);
    });
    const first = touched.find((t) => bench.get().document?.pieces.some((p) => p.id === t && p.kind !== 'group'));
    if (first) focusPiece(first);
  }
  update(id, { state: edits.length ? 'done' : 'failed', share: 1, reports, notes, refused: drop.refused, drawings });
  bench.set({ say: summary(reports, notes, drop.refused) });
}

function summary(reports: Arrival['reports'], notes: readonly string[], refused: readonly string[]): string {
  const said: string[] = [];
  for (const r of reports) {
    const w = r.warnings;
    const faces = r.pieces.reduce((n, p) => n + p.faces, 0);
    said.push(
      `${r.file}: ${r.pieces.length} ${r.pieces.length === 1 ? 'piece' : 'pieces'}, ` +
        `${faces.toLocaleString('en')} ` +
        `faces.${w.length ? ` ${w[0]}${w.length > 1 ? ` And ${w.length - 1} more.` : ''}` : ''}`,
    );
  }
  const all = [...said, ...notes, ...refused];
  return all.length > 2 ? `${all.slice(0, 2).join(' ')} And ${all.length - 2} more: see Gather.` : all.join(' ');
}

function bringModel(
  d: changes.Draft,
  m: ReadModel,
  sha: string,
  ids: readonly string[],
  blobs: readonly string[],
  images: ReadonlyMap<number, string>,
): void {
  m.images.forEach((im, n) =>
    changes.addImage(d, {
      id: images.get(n)!,
      name: im.name,
      blob: blobs[n],
      mime: im.mime,
      width: im.width,
      height: im.height,
      bits: 8,
      use: 'picture',
    }),
  );
  const slots = new Map<string, string>();
  for (const x of m.materials) {
    const own = changes.newId();
    const maps = mapMaps(x.maps, (at) => images.get(at));
    slots.set(x.id, own);
    changes.addMaterial(d, {
      id: own,
      name: x.name,
      color: x.color,
      ...(x.opacity === undefined ? {} : { opacity: x.opacity }),
      ...lookOf(x),
      ...(Object.keys(maps).length ? { maps } : {}),
    });
  }
  // Several pieces at the top stand in a group with the file's name.
  const tops = m.pieces.filter((p) => p.parent < 0).length;
  const root = tops > 1 ? changes.newId() : null;
  if (root) changes.addGroup(d, root, m.name.replace(/\.[^.]*$/, ''));
  // A mesh with pieces inside it stands beside them, in a group: only groups hold others.
  const holds = new Set(m.pieces.map((p) => p.parent));
  const groupOf = new Map<number, string>();
  m.pieces.forEach((p, i) => {
    const parent = p.parent >= 0 ? groupOf.get(p.parent)! : root;
    const place = p.place && placeOf(p.place);
    if (p.item < 0 || holds.has(i)) {
      const g = p.item < 0 ? ids[i] : changes.newId();
      groupOf.set(i, g);
      changes.addGroup(d, g, p.name, parent, place);
    }
    if (p.item < 0) return;
    changes.addPiece(d, ids[i], p.name, holds.has(i) ? groupOf.get(i)! : parent, [], holds.has(i) ? undefined : place);
    if (p.same !== undefined) {
      changes.setPiece(d, ids[i], { link: ids[p.same] });
      return;
    }
    changes.addStep(d, ids[i], 'brought-in', changes.newId(), {
      file: m.name,
      piece: p.name,
      item: p.item,
      blob: sha,
      local: m.local,
      unit: m.intake.unit,
      up: m.intake.up,
      slots: Object.fromEntries(p.slots.map((x) => [x, slots.get(x) ?? x])),
    });
  });
}

async function asCurves(
  p: Pick<ReadPicture, 'name' | 'bytes'>,
): Promise<{ piece: string; edit: (d: changes.Draft) => void } | undefined> {
  const sha = await keepBlob(p.bytes, 'image/svg+xml');
  const piece = changes.newId();
  const name = p.name.replace(/\.svg$/i, '');
  await session.crew?.ask('keep', { sha, bytes: p.bytes });
  return {
    piece,
    edit: (d) => {
      changes.addPiece(d, piece, name);
      changes.addStep(d, piece, 'brought-in', changes.newId(), {
        file: p.name,
        piece: name,
        item: 0,
        blob: sha,
        local: true,
      });
    },
  };
}

/** A drawing that came in as a blueprint, as curves too. */
export async function drawingAsCurves(arrival: string, name: string): Promise<void> {
  const drawing = bench
    .get()
    .arrivals.find((a) => a.id === arrival)
    ?.drawings.find((d) => d.name === name);
  const made = drawing && (await asCurves(drawing));
  if (!made) return;
  session.change(`bring in ${name} as curves`, made.edit);
  focusPiece(made.piece);
  update(arrival, {
    drawings: bench
      .get()
      .arrivals.find((a) => a.id === arrival)!
      .drawings.filter((d) => d.name !== name),
  });
}

/** One unit of the file, or its up axis, for all that came from it. */
export function setArrivalScale(
  report: { pieceIds: readonly string[]; file: string },
  part: { unit?: number; up?: 'y' | 'z' },
): void {
  session.change(`scale ${report.file}`, (d) => {
    for (const p of d.pieces)
      if (report.pieceIds.includes(p.id))
        for (const s of p.recipe) if (s.kind === 'brought-in') Object.assign(s.values, part);
  });
  bench.set((s) => ({
    arrivals: s.arrivals.map((a) => ({
      ...a,
      reports: a.reports.map((r) =>
        r.pieceIds === report.pieceIds || r.pieceIds.join() === report.pieceIds.join() ? { ...r, ...part } : r,
      ),
    })),
  }));
}

/** A missing map, dropped later: every material of what came in that has none takes it. */
export async function giveMissing(arrival: string, file: File, wanted: string): Promise<void> {
  try {
    const bitmap = await createImageBitmap(file);
    const sha = await keepBlob(new Uint8Array(await file.arrayBuffer()), file.type || 'image/png');
    const image = changes.newId();
    const a = bench.get().arrivals.find((x) => x.id === arrival);
    const ids = new Set(a?.reports.filter((r) => r.missing.includes(wanted)).flatMap((r) => r.pieceIds));
    session.change(`give ${wanted}`, (d) => {
      changes.addImage(d, {
        id: image,
        name: wanted,
        blob: sha,
        mime: file.type || 'image/png',
        width: bitmap.width,
        height: bitmap.height,
        bits: 8,
        use: 'picture',
      });
      const used = new Set(
        d.pieces
          .filter((p) => ids.has(p.id))
          .flatMap((p) =>
            p.recipe.flatMap((s) =>
              s.kind === 'brought-in' ? Object.values(s.values.slots as Record<string, string>) : [],
            ),
          ),
      );
      for (const m of d.materials) if (used.has(m.id) && !m.maps?.color) m.maps = { ...m.maps, color: image };
    });
    update(arrival, { reports: a!.reports.map((r) => ({ ...r, missing: r.missing.filter((m) => m !== wanted) })) });
  } catch {
    bench.set({ say: `${file.name} is not a picture that can be shown.` });
  }
}
