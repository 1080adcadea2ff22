'use client';
import { IconFocusCentered } from '@tabler/icons-react';
import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { placeOf, placeMatrix, type Axis, type Triple } from '../../../core/math/affine';
import { FALLOFF, REACH } from '../../../core/tools';
import { angle, length } from '../../../core/recipe/values';
import * as changes from '../../../document/changes';
import {
  align,
  bakePlaces,
  copyPieces,
  distribute,
  makeOwn,
  mirrorCopy,
  movePivot,
  ownBox,
  setOwnSize,
} from '../pieceActions';
import { begin } from '../pointing';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { bench, useBench } from '../store';
import { Buttons, Check, Choice, Section, Small, Three } from './Fields';

const at = ['x', 'y', 'z'].map((k) => length(`Place along ${k}`, 0));
const turn = ['x', 'y', 'z'].map((k) => angle(`Turned about ${k}`, 0));
const size = ['x', 'y', 'z'].map((k) => length(`Size along its own ${k}`, 0, { min: 0.0000001, max: 1e6 }));
const radius = length('Takes along within', 0, { min: 0, max: 10000, zero: 'nothing' });
const value = length('Align at', 0);
const AXES = [
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
] as const;

/** Where the picked piece stands, how it is turned and how large it is; handles' axes; pivots; lining up several. */
export function PlaceSection() {
  const s = useBench(
    useShallow(({ document, piece, picked, mode, stage, handle, pivoting, axes, about, soft, falloff, reach }) => ({
      ...{ document, piece, picked, mode, stage },
      ...{ handle, pivoting, axes, about, soft, falloff, reach },
    })),
  );
  useBench((x) => x.shown); // sizes follow what is shown
  const piece = s.document?.pieces.find((p) => p.id === s.piece);
  const many = s.picked.length > 1;
  const [mirror, setMirror] = useState<{
    axis: Axis;
    across: 'world' | 'parent' | 'pivot';
    linked: boolean;
    frontRear: boolean;
  }>({ axis: 'x', across: 'parent', linked: false, frontRear: false });
  const [axis, setAxis] = useState<Axis>('x');
  const [to, setTo] = useState(0);
  const [pivots, setPivots] = useState(false);
  const [more, setMore] = useState<'mirror' | 'align' | null>(null);
  if (!piece)
    return (
      <Section title="Place">
        <p className="quiet">Pick a piece to see where it stands.</p>
      </Section>
    );
  const p = piece.place;
  const box = ownBox(piece.id);
  const real = [0, 1, 2].map((k) => (box ? (box.max[k] - box.min[k]) * Math.abs(p.size[k]) : 0));
  const set = (label: string, part: Partial<typeof p>, live: string | undefined) =>
    session.change(label, (d) => changes.setPlace(d, piece.id, part), live);
  const three = (list: readonly number[], i: number, x: number): Triple => {
    const out: [number, number, number] = [list[0], list[1], list[2]];
    out[i] = x;
    return out;
  };
  const plain =
    placeOf(placeMatrix(p)).at.every((x) => Math.abs(x) < 1e-9) &&
    p.turn.every((x) => x === 0) &&
    p.size.every((x) => x === 1) &&
    p.lean.every((x) => x === 0);
  return (
    <Section title="Place" aside={many ? `${s.picked.length} pieces` : piece.name}>
      {!many && (
        <>
          <Three
            name="At"
            unit={s.document?.units}
            defs={at}
            values={p.at}
            onChange={(i, x, live) =>
              set('place a piece', { at: three(p.at, i, x) }, live ? `at ${piece.id}` : undefined)
            }
          />
          <Three
            name="Turn"
            defs={turn}
            values={p.turn}
            onChange={(i, x, live) =>
              set('turn a piece', { turn: three(p.turn, i, x) }, live ? `turn ${piece.id}` : undefined)
            }
          />
          {real.some((x) => x > 0) && (
            <Three
              name="Size"
              unit={s.document?.units}
              defs={size}
              values={real}
              onChange={(i, x, live) => setOwnSize(piece.id, i, x, live)}
            />
          )}
        </>
      )}
      {s.mode !== 'piece' && s.stage === 'shape' && (
        <div className="row">
          <span className="quiet">Takes along within</span>
          <Value
            name="soft"
            def={radius}
            value={s.soft}
            onChange={(v) => bench.set({ soft: v as number })}
            onSettle={() => undefined}
            onCancel={() => undefined}
          />
        </div>
      )}
      {s.mode !== 'piece' && s.soft > 0 && (
        <>
          <Choice name="Fading" value={s.falloff} options={FALLOFF} onChange={(falloff) => bench.set({ falloff })} />
          <Choice name="Measured" value={s.reach} options={REACH} onChange={(reach) => bench.set({ reach })} />
        </>
      )}
      <Choice
        name="Axes"
        value={s.axes}
        options={[
          ['world', 'of the world'],
          ['parent', 'of its group'],
          ['own', 'its own'],
          ['view', 'of the view'],
          ['surface', 'of the surface'],
        ]}
        onChange={(axes) => bench.set({ axes })}
      />
      <Choice
        name="About"
        value={s.about}
        options={[
          ['pivot', 'the pivot'],
          ['pick', 'its middle'],
          ['origin', 'the world’s origin'],
          ['each', 'each its own'],
        ]}
        onChange={(about) => bench.set({ about })}
      />
      <div className="row mt-1">
        <span className="quiet flex items-center gap-1">
          <IconFocusCentered size={13} stroke={1.6} />
          Pivot
        </span>
      </div>
      <Buttons>
        <Small onClick={() => begin('pivot')} title="Click where it should be (P)">
          Click
        </Small>
        <Small
          pressed={s.pivoting}
          onClick={() =>
            bench.set({
              pivoting: !s.pivoting,
              handle: s.handle === 'turn' ? 'turn' : 'move',
              mode: 'piece',
              axes: s.pivoting ? s.axes : 'own',
            })
          }
          title="Handles move and turn the pivot, not the piece"
        >
          Move, turn
        </Small>
        <Small onClick={() => movePivot('centre')}>Centre</Small>
        <Small onClick={() => movePivot('bottom')}>Bottom</Small>
        <Small onClick={() => movePivot('world')}>World</Small>
        <Small onClick={() => movePivot('pick')}>Pick</Small>
      </Buttons>
      <div className="row mt-2">
        <span className="quiet">Copies and order</span>
      </div>
      <Buttons>
        <Small onClick={() => copyPieces(true)} title="One recipe, many places (Ctrl Shift D)">
          Linked copy
        </Small>
        {piece.link && <Small onClick={makeOwn}>Make its own</Small>}
        <Small pressed={more === 'mirror'} onClick={() => setMore(more === 'mirror' ? null : 'mirror')}>
          Mirror …
        </Small>
        <Small
          pressed={more === 'align'}
          disabled={!many}
          title={many ? undefined : 'Pick several pieces'}
          onClick={() => setMore(more === 'align' ? null : 'align')}
        >
          Align …
        </Small>
        {!plain && piece.kind === 'mesh' && !piece.link && (
          <Small onClick={bakePlaces} title="Writes the place into the recipe; nothing needs it">
            Bake placement
          </Small>
        )}
      </Buttons>
      {more === 'mirror' && (
        <div className="mt-1 border-l border-line pl-2">
          <Choice
            name="Across"
            value={mirror.axis}
            options={AXES}
            onChange={(a) => setMirror({ ...mirror, axis: a })}
          />
          <Choice
            name="Of"
            value={mirror.across}
            options={[
              ['parent', 'its group'],
              ['world', 'the world'],
              ['pivot', 'its pivot'],
            ]}
            onChange={(across) => setMirror({ ...mirror, across })}
          />
          <Check name="Linked" value={mirror.linked} onChange={(linked) => setMirror({ ...mirror, linked })} />
          <Check
            name="Swap front and rear in names"
            value={mirror.frontRear}
            onChange={(frontRear) => setMirror({ ...mirror, frontRear })}
          />
          <button
            className="btn btn-sm btn-primary mt-1 w-full justify-center !py-1"
            onClick={() => mirrorCopy(mirror)}
          >
            Mirrored copy
          </button>
        </div>
      )}
      {more === 'align' && (
        <div className="mt-1 border-l border-line pl-2">
          <Choice name="Along" value={axis} options={AXES} onChange={setAxis} />
          <div className="row">
            <span className="quiet">At</span>
            <Value
              name="align"
              def={value}
              value={to}
              onChange={(v) => setTo(v as number)}
              onSettle={() => undefined}
              onCancel={() => undefined}
            />
          </div>
          <Check name="Only the pivots" value={pivots} onChange={setPivots} />
          <Buttons>
            <Small onClick={() => align(axis, to, pivots)}>Align</Small>
            <Small onClick={() => distribute(axis)}>Spread evenly</Small>
          </Buttons>
        </div>
      )}
    </Section>
  );
}
