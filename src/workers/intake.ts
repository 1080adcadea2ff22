/**
 * What was dropped, read: models with their reports, pictures ready to be shown, heights. Shared by the intake worker
 * and its tests.
 */
import {
  planDrop,
  intakeOf,
  type Intake,
  readHeights,
  pictureInfo,
  readAny,
  readTiff,
  writePng,
  FileError,
  readingError,
  toHex,
  writeZip,
} from '../core/formats';
import type { Affine } from '../core/math';
import { type Look, lookOf, mapMaps, type Maps } from '../core/material';
import type { Mesh } from '../core/mesh';

export interface ReadPiece {
  name: string;
  /** Index in this list, or −1. */ parent: number;
  /** Number in the file; −1 for groups. */ item: number;
  slots: string[];
  place?: Affine;
  /** An earlier piece with the same mesh. */ same?: number;
}
export interface ReadImage {
  name: string;
  mime: string;
  bytes: Uint8Array;
  width: number;
  height: number;
}
export interface ReadMaterial extends Look {
  id: string;
  name: string;
  color: string;
  opacity?: number;
  maps?: Maps<number>;
}
export interface ReadModel {
  name: string;
  /** What is kept: the file, or a ZIP of it and what it needs. */ stored: Uint8Array;
  intake: Intake;
  pieces: ReadPiece[];
  materials: ReadMaterial[];
  images: ReadImage[];
  /** Pieces carry places of their own. */ local: boolean;
}
export interface ReadPicture {
  name: string;
  kind: 'image' | 'svg' | 'pdf';
  mime: string;
  bytes: Uint8Array;
  width: number;
  height: number;
}
export interface ReadHeight {
  name: string;
  bytes: Uint8Array;
  mime: string;
  width: number;
  height: number;
  bits: 8 | 16 | 32;
}
export interface ReadDrop {
  models: ReadModel[];
  pictures: ReadPicture[];
  heights: ReadHeight[];
  refused: string[];
}

export async function readDrop(
  files: readonly (readonly [string, Uint8Array])[],
  progress: (file: string, share: number) => void,
): Promise<ReadDrop> {
  const plan = planDrop(files);
  const out: ReadDrop = { models: [], pictures: [], heights: [], refused: plan.refused };
  for (const m of plan.models) {
    progress(m.name, 0);
    try {
      const scene = await readAny(m.bytes, m.name, m.beside, (share) => progress(m.name, 0.8 * share));
      progress(m.name, 0.85);
      const intake = intakeOf(scene, m.name);
      const first = new Map<Mesh, number>();
      const local = scene.pieces.some((p) => p.place);
      const images: ReadImage[] = [];
      const imageAt = new Map<number, number>();
      scene.images.forEach((i, n) => {
        try {
          const info = i.bytes.length ? pictureInfo(i.bytes, i.name) : undefined;
          if (info && (info.kind === 'png' || info.kind === 'jpeg' || info.kind === 'webp'))
            imageAt.set(
              n,
              images.push({ name: i.name, mime: info.mime, bytes: i.bytes, width: info.width, height: info.height }) -
                1,
            );
          else if (info?.kind === 'tiff') {
            const t = readTiff(i.bytes, i.name);
            imageAt.set(
              n,
              images.push({ name: i.name, mime: 'image/png', bytes: writePng(t), width: t.width, height: t.height }) -
                1,
            );
          } else
            throw new FileError(`${i.name} is not a picture that can be shown. Its material keeps its plain colour.`);
        } catch (e) {
          intake.warnings.push(readingError(e, i.name).message);
        }
      });
      const image = (n: number | undefined) => (n === undefined ? undefined : imageAt.get(n));
      out.models.push({
        name: m.name,
        intake,
        local,
        images,
        // Only glTF needs its companions to be read again; pictures and materials have become the project's own.
        stored:
          m.beside.size && /\.gltf$/i.test(m.name) ? writeZip(new Map([[m.name, m.bytes], ...m.beside])) : m.bytes,
        materials: scene.materials.map((x) => ({
          id: x.id,
          name: x.name,
          color: toHex(x.color),
          ...(x.color[3] < 1 ? { opacity: x.color[3] } : {}),
          ...lookOf(x),
          maps: mapMaps(x.maps, image),
        })),
        pieces: scene.pieces.map((p, item) => {
          const same = p.mesh && first.get(p.mesh);
          if (p.mesh && same === undefined) first.set(p.mesh, item);
          return {
            name: p.name,
            parent: p.parent,
            item: p.mesh ? item : -1,
            slots: p.mesh ? [...p.mesh.slots] : [],
            ...(p.place ? { place: p.place } : {}),
            ...(same !== undefined ? { same } : {}),
          };
        }),
      });
    } catch (e) {
      out.refused.push(readingError(e, m.name).message);
    }
  }
  for (const p of plan.pictures) {
    progress(p.name, 0);
    try {
      if (p.info.kind === 'tiff') {
        const t = readTiff(p.bytes, p.name);
        out.pictures.push({
          name: p.name,
          kind: 'image',
          mime: 'image/png',
          bytes: writePng(t),
          width: t.width,
          height: t.height,
        });
      } else
        out.pictures.push({
          name: p.name,
          kind: p.info.kind === 'svg' || p.info.kind === 'pdf' ? p.info.kind : 'image',
          mime: p.info.mime,
          bytes: p.bytes,
          width: p.info.width,
          height: p.info.height,
        });
    } catch (e) {
      out.refused.push(readingError(e, p.name).message);
    }
  }
  for (const h of plan.heights) {
    progress(h.name, 0);
    try {
      const r = readHeights(h.bytes, h.name);
      out.heights.push({
        name: h.name,
        bytes: h.bytes,
        mime: pictureInfo(h.bytes, h.name)?.mime ?? 'application/octet-stream',
        width: r.width,
        height: r.height,
        bits: r.bits,
      });
    } catch (e) {
      out.refused.push(readingError(e, h.name).message);
    }
  }
  return out;
}
