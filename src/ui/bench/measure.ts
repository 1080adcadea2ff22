/**
 * Pinned measures and the one in hand, as lines with their values. Ends that hold on to elements stand where those are
 * now.
 */
import { toPlane } from '../../core/blueprint/blueprint';
import { applyPoint, IDENTITY, type Affine } from '../../core/math/affine';
import { angleAt, circleThrough, distance } from '../../core/mesh/span';
import { formatQuantity } from '../../core/recipe/quantity';
import type { ProjectDocument, Tape } from '../../document/types';
import type { FoundAnchors } from '../../workers/protocol';
import type { Pointing } from './store';
import type { MeasureLine } from './view/notes';

type P3 = [number, number, number];

/** Where the ends of a tape are in the world; `lost` where what one held on to is gone. */
export function tapeEnds(
  doc: Pick<ProjectDocument, 'pieces'>,
  tape: Tape,
  anchors: FoundAnchors,
  world: ReadonlyMap<string, Affine>,
): { points: P3[]; lost: boolean } {
  let lost = false;
  const points = tape.ends.map((e, i): P3 => {
    if (e.piece === null) return e.at;
    const piece = doc.pieces.find((p) => p.id === e.piece);
    const m = world.get(e.piece) ?? IDENTITY;
    if (!piece) {
      lost = true;
      return e.at;
    }
    if (e.kind === 'pivot') return applyPoint(m, piece.place.pivot);
    const found = e.kind === 'free' ? undefined : anchors[`${tape.id}/${i}`];
    if (found === null) lost = true;
    return applyPoint(m, found ?? e.at);
  });
  return { points, lost };
}

export function lineOf(
  id: string,
  kind: Tape['kind'],
  points: readonly P3[],
  doc: Pick<ProjectDocument, 'units'> & { settings?: { precision: number } },
): MeasureLine {
  const digits = doc.settings?.precision ?? 3;
  if (kind === 'angle' && points.length === 3)
    return { id, points, text: formatQuantity(angleAt(points[0], points[1], points[2]), 'angle') };
  if (kind === 'diameter' && points.length === 3) {
    const c = circleThrough(points[0], points[1], points[2]);
    return {
      id,
      points: [],
      text: c ? `⌀ ${formatQuantity(2 * c.radius, 'length', doc.units, digits)}` : '',
      ...(c ? { round: c } : {}),
    };
  }
  return {
    id,
    points,
    text: points.length === 2 ? formatQuantity(distance(points[0], points[1]), 'length', doc.units, digits) : '',
  };
}

export function measureLines(
  doc: ProjectDocument,
  anchors: FoundAnchors,
  now: Pointing | null,
  world: ReadonlyMap<string, Affine>,
): MeasureLine[] {
  const out = doc.tapes.map((t) => {
    const { points, lost } = tapeEnds(doc, t, anchors, world);
    const line = lineOf(t.id, t.kind, points, doc);
    return lost ? { ...line, text: `${line.text} (lost its hold)` } : line;
  });
  // A seam that is traced shows itself; how far its points are apart says nothing.
  if (now?.points.length && now.tool !== 'trace-seam') {
    const points = now.points.map((p) => p.at);
    const kind: Tape['kind'] = now.tool === 'angle' || now.tool === 'diameter' ? now.tool : 'length';
    const sheet = now.tool === 'cut' ? doc.pieces.find((p) => p.id === now.on) : undefined;
    const [a, b] = now.points.map((p) => p.pixel);
    if (sheet?.blueprint && a && b) {
      const m = world.get(sheet.id) ?? IDENTITY;
      const ring = ([a, [b[0], a[1]], b, [a[0], b[1]], a] as const).map((p) => {
        const [u, v] = toPlane(sheet.blueprint!, p as [number, number]);
        return applyPoint(m, [u, v, 0]);
      });
      out.push({
        id: 'in hand',
        points: ring,
        text: `${Math.abs(b[0] - a[0]).toFixed(0)} × ${Math.abs(b[1] - a[1]).toFixed(0)} px`,
      });
    } else
      out.push(
        points.length > 1 || kind === 'length'
          ? { ...lineOf('in hand', kind, points, doc), points }
          : { id: 'in hand', points, text: '' },
      );
  }
  return out;
}
