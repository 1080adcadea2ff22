'use client';
import { useMemo } from 'react';
import { resolve } from '../../../core/mesh/picks';
import { formatNumber, formatQuantity, unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import type { Piece } from '../../../document/types';
import { ownBox } from '../pieceActions';
import { heldBy } from '../pieces/rows';
import { useBench } from '../store';
import { MeasureSection } from './MeasureSection';
import { PlaceSection } from './PlaceSection';
import { SetsSection } from './SetsSection';
import { SnapSection } from './SnapSection';

/** Areas in the square of the unit that keeps the number short. */
function area(m2: number, units: LengthUnit): string {
  if (units === 'in' || units === 'ft')
    return `${formatNumber(m2 / unitSize(units) ** 2, 'number', units, 2)} ${units}²`;
  return m2 >= 1
    ? `${formatNumber(m2, 'number', units, 3)} m²`
    : m2 >= 1e-6 * 100
      ? `${formatNumber(m2 * 1e4, 'number', units, 2)} cm²`
      : `${formatNumber(m2 * 1e6, 'number', units, 2)} mm²`;
}

const Line = ({ name, value, tone }: { name: string; value: string; tone?: string }) => (
  <div className="row">
    <dt className="quiet">{name}</dt>
    <dd className={`num font-semibold ${tone ?? ''}`}>{value}</dd>
  </div>
);

/** Place, facts, checks, sets and snapping: what the Shape stage watches. */
export function ShapeSide() {
  const s = useBench(),
    units = s.document?.units ?? 'mm',
    shape = s.edited?.shape;
  const piece = s.document?.pieces.find((p) => p.id === s.piece),
    digits = s.document?.settings.precision ?? 2;
  const n = useMemo(() => (s.mesh ? resolve(s.mesh, s.pick).indices.length : 0), [s.mesh, s.pick]);
  const size3 = (v: readonly number[]) =>
    v.map((x) => formatNumber(x, 'length', units, Math.min(digits, 1))).join(' × ');
  const kind = s.pick.kind,
    inside = useMemo(
      () =>
        piece?.kind === 'group' && s.document
          ? heldBy(s.document.pieces, (id) => s.shown.get(id)?.buffers?.triangles ?? 0).get(piece.id)
          : undefined,
      [piece, s.document, s.shown],
    );
  return (
    <>
      <PlaceSection />
      <section className="panel-section" aria-label="Facts">
        <div className="row">
          <h2 className="panel-title">Facts</h2>
          <span className="quiet">{n ? 'picked' : (piece?.name ?? '')}</span>
        </div>
        {!shape &&
          (piece && inside ? (
            <dl>
              <Line name="Pieces" value={String(inside.pieces)} />
              <Line name="Triangles" value={inside.triangles.toLocaleString('en')} />
              <Line name={`Size, ${units}`} value={size3(realSize(piece))} />
            </dl>
          ) : (
            <p className="quiet">Pick a piece to measure it.</p>
          ))}
        {shape && (
          <dl>
            {n > 0 && (
              <Line
                name={kind === 'face' ? 'Faces' : kind === 'edge' ? 'Edges' : 'Vertices'}
                value={`${n} of ${kind === 'face' ? shape.faces : kind === 'edge' ? shape.edges : shape.vertices}`}
              />
            )}
            {n > 0 && s.facts && (
              <>
                {kind === 'face' && <Line name="Area" value={area(s.facts.area, units)} />}
                {kind === 'edge' && (
                  <Line name="Length" value={formatQuantity(s.facts.length, 'length', units, digits)} />
                )}
                <Line name={`Size, ${units}`} value={size3(s.facts.size)} />
                {kind === 'face' && (
                  <Line name="Flat within" value={formatQuantity(s.facts.flat, 'length', units, digits)} />
                )}
              </>
            )}
            {n === 0 && (
              <>
                <Line name="Vertices" value={String(shape.vertices)} />
                <Line name="Faces" value={String(shape.faces)} />
                <Line name="Triangles" value={String(shape.triangles)} />
                {s.edited && <Line name={`Size, ${units}`} value={size3(realSize(piece))} />}
              </>
            )}
          </dl>
        )}
      </section>
      <section className="panel-section" aria-label="Checks">
        <div className="row">
          <h2 className="panel-title">Checks</h2>
          <span className="quiet">{piece?.name}</span>
        </div>
        {shape ? (
          <dl>
            {(
              [
                ['Open edges', shape.openEdges, 'text-warn'],
                ['Edges on 3+ faces', shape.nonManifoldEdges, 'text-wrong'],
                ['Doubled faces', shape.doubledFaces, 'text-wrong'],
                ['Loose points', shape.looseVertices, 'text-warn'],
              ] as const
            ).map(([name, value, tone]) => (
              <Line key={name} name={name} value={String(value)} tone={value ? tone : 'text-value'} />
            ))}
            <Line name="Closed" value={shape.closed ? 'yes' : 'no'} tone={shape.closed ? 'text-value' : 'text-warn'} />
          </dl>
        ) : (
          <p className="quiet">Nothing to check.</p>
        )}
      </section>
      <SetsSection />
      <SnapSection />
      <MeasureSection />
    </>
  );
}

/** The size of a piece along its own axes as it stands, whatever was sized. */
function realSize(piece: Piece | undefined): number[] {
  const b = piece && ownBox(piece.id);
  return [0, 1, 2].map((k) => (b ? (b.max[k] - b.min[k]) * Math.abs(piece.place.size[k]) : 0));
}
