'use client';
/** Measures of what is picked, or of the piece. */
import { useMemo } from 'react';
import { resolve, type PickKind } from '../../../core/mesh/picks';
import type { Shape } from '../../../core/mesh/measure';
import { formatQuantity, type LengthUnit } from '../../../core/recipe/quantity';
import type { Piece } from '../../../document/types';
import { ownBox } from '../pieceActions';
import { heldBy } from '../pieces/rows';
import { useBench } from '../store';
import { Line, Section } from './Fields';
import { shortArea, shortLength } from './short';

const NOUNS: Readonly<Record<PickKind, readonly [string, 'faces' | 'edges' | 'vertices']>> = {
  face: ['Faces', 'faces'],
  edge: ['Edges', 'edges'],
  vertex: ['Vertices', 'vertices'],
};

/** Three lengths, each as short as it can be told: they stand one below the other where they are long. */
function Size({ of, units, digits }: { of: readonly number[]; units: LengthUnit; digits: number }) {
  const texts = of.map((x) => shortLength(x, units, digits));
  const long = texts.join('').length > 14;
  return (
    <div className={long ? '' : 'row'}>
      <dt className="quiet">Size, {units}</dt>
      <dd className={`num font-semibold ${long ? 'text-right' : ''}`}>{texts.join(' × ')}</dd>
    </div>
  );
}

export function FactsSection() {
  const units = useBench((s) => s.document?.units ?? 'mm');
  const digits = useBench((s) => s.document?.settings.precision ?? 2);
  const piece = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece));
  const shape = useBench((s) => s.edited?.shape);
  const mesh = useBench((s) => s.mesh);
  const pick = useBench((s) => s.pick);
  const n = useMemo(() => (mesh ? resolve(mesh, pick).indices.length : 0), [mesh, pick]);
  useBench((s) => s.shown); // sizes follow what is shown
  const own = { units, digits };
  return (
    <Section title="Facts" aside={n ? 'picked' : piece?.name}>
      {!shape && <HeldFacts piece={piece} {...own} />}
      {shape && n > 0 && <PickFacts count={n} kind={pick.kind} shape={shape} {...own} />}
      {shape && n === 0 && (
        <dl>
          <Line name="Vertices" value={shape.vertices.toLocaleString('en')} />
          <Line name="Faces" value={shape.faces.toLocaleString('en')} />
          <Line name="Triangles" value={shape.triangles.toLocaleString('en')} />
          <Size of={realSize(piece)} {...own} />
        </dl>
      )}
    </Section>
  );
}

interface Shown {
  units: LengthUnit;
  digits: number;
}

/** What a group holds. */
function HeldFacts({ piece, ...own }: { piece: Piece | undefined } & Shown) {
  const pieces = useBench((s) => s.document?.pieces);
  const shown = useBench((s) => s.shown);
  const held = useMemo(
    () =>
      piece?.kind === 'group' && pieces
        ? heldBy(pieces, (id) => shown.get(id)?.buffers?.triangles ?? 0).get(piece.id)
        : undefined,
    [piece, pieces, shown],
  );
  if (!piece || !held) return <p className="quiet">Pick a piece to measure it.</p>;
  return (
    <dl>
      <Line name="Pieces" value={held.pieces.toLocaleString('en')} />
      <Line name="Triangles" value={held.triangles.toLocaleString('en')} />
      <Size of={realSize(piece)} {...own} />
    </dl>
  );
}

function PickFacts({ count, kind, shape, ...own }: { count: number; kind: PickKind; shape: Shape } & Shown) {
  const facts = useBench((s) => s.facts);
  const [noun, all] = NOUNS[kind];
  const { units, digits } = own;
  return (
    <dl>
      <Line name={noun} value={`${count.toLocaleString('en')} of ${shape[all].toLocaleString('en')}`} />
      {facts && kind === 'face' && <Line name="Area" value={shortArea(facts.area, units)} />}
      {facts && kind === 'edge' && <Line name="Length" value={formatQuantity(facts.length, 'length', units, digits)} />}
      {facts && <Size of={facts.size} {...own} />}
      {facts && kind === 'face' && (
        <Line name="Flat within" value={formatQuantity(facts.flat, 'length', units, digits)} />
      )}
    </dl>
  );
}

/** The size of a piece along its own axes as it stands, whatever was sized. */
function realSize(piece: Piece | undefined): number[] {
  const b = piece && ownBox(piece.id);
  return [0, 1, 2].map((k) => (b ? (b.max[k] - b.min[k]) * Math.abs(piece.place.size[k]) : 0));
}
