'use client';
import { useState } from 'react';
import { SIDES, type Blueprint } from '../../../core/blueprint/blueprint';
import { formatQuantity } from '../../../core/recipe/quantity';
import { angle, length } from '../../../core/recipe/values';
import * as changes from '../../../document/changes';
import type { Piece } from '../../../document/types';
import { begin, checkViews, offeredRound } from '../pointing';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { bench, handOf, useBench } from '../store';
import { Buttons, Check, Choice, Section, Small, Remove } from './Fields';

const level = angle('Level', 0, { digits: 3 });
const scale = length('One pixel is', 0.001, { min: 1e-9, max: 1e6, digits: 5 });
const along = length('Station at', 0);

/** Making a picture true to scale, and what is marked on it. */
export function BlueprintSection({ piece }: { piece: Piece }) {
  const doc = useBench((s) => s.document)!;
  const pointing = useBench((s) => handOf(s, 'pointing'));
  const picked = useBench((s) => s.picked);
  const b = piece.blueprint!;
  const image = doc.images.find((i) => i.id === b.image);
  const [other, setOther] = useState('');
  const set = (part: Partial<Blueprint>, live?: string) =>
    session.change('change a blueprint', (d) => Object.assign(changes.pieceOf(d, piece.id).blueprint!, part), live);
  const tool = (id: string, label: string, title?: string) => (
    <Small
      pressed={pointing?.tool === id}
      title={title}
      onClick={() => (pointing?.tool === id ? bench.set({ hand: null }) : begin(id, piece.id))}
    >
      {label}
    </Small>
  );
  const others = doc.pieces.filter((p) => p.kind === 'blueprint' && p.id !== piece.id);
  const checked = other && others.some((o) => o.id === other) ? checkViews(piece.id, other) : null;
  const units = doc.units;
  const movable = picked.filter((id) => doc.pieces.some((p) => p.id === id && p.kind !== 'blueprint'));
  const slide = (name: string, key: 'opacity' | 'brightness' | 'contrast', lo: number) => (
    <label className="row">
      <span className="quiet">{name}</span>
      <span className="flex items-center gap-2">
        <input
          type="range"
          className="range range-xs w-24"
          aria-label={name}
          min={lo}
          max={1}
          step={0.01}
          value={b[key]}
          onChange={(e) => set({ [key]: Number(e.target.value) }, `${key} ${piece.id}`)}
          onPointerUp={() => session.settle()}
          onKeyUp={() => session.settle()}
          onBlur={() => session.settle()}
        />
        <span className="num w-8 text-right">{b[key].toFixed(2)}</span>
      </span>
    </label>
  );
  return (
    <>
      <Section title="True it up" aside={piece.name}>
        <Buttons>
          {tool('level', 'Level', 'Two points that should be level or upright')}
          {tool('scale', 'Scale', 'Two points and their real distance')}
          {tool('origin', 'Origin', 'A cross that lies at the origin')}
          {tool('cut', 'Cut a view out', 'Two corners of a view')}
        </Buttons>
        <div className="row mt-1">
          <span className="quiet">Turned</span>
          <Value
            name="level"
            def={level}
            value={b.level}
            onChange={(v, live) => set({ level: v as number }, live ? `level ${piece.id}` : undefined)}
            onSettle={() => session.settle()}
            onCancel={() => session.cancel()}
          />
        </div>
        <div className="row">
          <span className="quiet">One pixel is</span>
          <Value
            name="scale"
            def={scale}
            value={b.scale}
            onChange={(v, live) => set({ scale: v as number }, live ? `scale ${piece.id}` : undefined)}
            onSettle={() => session.settle()}
            onCancel={() => session.cancel()}
          />
        </div>
        <div className="row">
          <span className="quiet">Shows</span>
          <span className="num">
            {formatQuantity((b.frame[2] - b.frame[0]) * b.scale, 'length', units, 1)} ×{' '}
            {formatQuantity((b.frame[3] - b.frame[1]) * b.scale, 'length', units, 1)}
          </span>
        </div>
        <Choice
          name="Seen from"
          value={b.side}
          options={SIDES.map((x) => [x, x === 'free' ? 'anywhere' : `the ${x}`] as const)}
          onChange={(side) => session.change('tie a blueprint to a side', (d) => changes.setSide(d, piece.id, side))}
        />
        {others.length > 0 && (
          <label className="row">
            <span className="quiet">Check against</span>
            <select className="select select-xs max-w-36" value={other} onChange={(e) => setOther(e.target.value)}>
              <option value="">…</option>
              {others.map((o) => (
                <option key={o.id} value={o.id}>
                  {o.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {typeof checked === 'string' && <p className="text-warn">{checked}</p>}
        {checked && typeof checked !== 'string' && (
          <p className={Math.abs(checked.share) > 0.005 ? 'text-warn' : 'text-value'} role="status">
            Along {checked.axis}, by {checked.by}: {formatQuantity(checked.inA, 'length', units, 2)} here,{' '}
            {formatQuantity(checked.inB, 'length', units, 2)} there. Off by{' '}
            {formatQuantity(checked.error, 'length', 'mm', 2)}, {(100 * checked.share).toFixed(2)} %.
          </p>
        )}
      </Section>
      <Section title="Stations and rounds">
        <Buttons>
          {tool('station-u', 'Stations across')}
          {tool('station-v', 'Stations upwards')}
          {tool('circle', 'Fit a circle')}
          {tool('ellipse', 'Fit an ellipse')}
          {offeredRound() && tool('same', 'The same size again')}
        </Buttons>
        {b.stations.length + b.rounds.length === 0 && (
          <p className="quiet mt-1">
            Mark where sections belong; then pick a piece together with this blueprint and put it there.
          </p>
        )}
        <ul>
          {b.stations.map((s) => (
            <li key={s.id} className="row">
              <input
                key={s.name}
                className="w-12 bg-transparent font-semibold outline-none focus:border-b focus:border-value"
                aria-label={`Name of station ${s.name}`}
                defaultValue={s.name}
                maxLength={40}
                onKeyDown={(e) => {
                  e.stopPropagation();
                  if (e.key === 'Enter') e.currentTarget.blur();
                }}
                onBlur={(e) => {
                  const name = e.target.value.trim();
                  if (name && name !== s.name)
                    set({ stations: b.stations.map((x) => (x.id === s.id ? { ...x, name } : x)) });
                }}
              />
              <span className="flex items-center gap-1">
                <Value
                  name={`station-${s.name}`}
                  def={along}
                  value={s.at}
                  onChange={(v, live) =>
                    session.change(
                      'move a station',
                      (d) => {
                        const q = changes.pieceOf(d, piece.id).blueprint!.stations.find((x) => x.id === s.id);
                        if (q) q.at = v as number;
                      },
                      live ? `station ${s.id}` : undefined,
                    )
                  }
                  onSettle={() => session.settle()}
                  onCancel={() => session.cancel()}
                />
                <Small
                  disabled={movable.length === 0}
                  title={
                    movable.length
                      ? `Put ${movable.length === 1 ? 'the picked piece' : `${movable.length} picked pieces`} here`
                      : 'Pick a piece together with this blueprint (Ctrl click)'
                  }
                  onClick={() =>
                    session.change(`place at station ${s.name}`, (d) =>
                      changes.placeAtStation(d, piece.id, s.id, movable),
                    )
                  }
                >
                  Put here
                </Small>
                <Remove
                  label={`Remove station ${s.name}`}
                  onClick={() => set({ stations: b.stations.filter((x) => x.id !== s.id) })}
                />
              </span>
            </li>
          ))}
        </ul>
        <ul>
          {b.rounds.map((r) => (
            <li key={r.id} className="row">
              <span className="num">
                {Math.abs(r.a - r.b) < 1e-9
                  ? `⌀ ${formatQuantity(2 * r.a, 'length', units, 2)}`
                  : `${formatQuantity(2 * r.a, 'length', units, 1)} × ${formatQuantity(2 * r.b, 'length', units, 1)}`}
              </span>
              <span className="flex items-center gap-1">
                <Small
                  onClick={() =>
                    session.change('a section from a round', (d) =>
                      changes.sectionFromRound(d, piece.id, r.id, changes.newId(), changes.newId()),
                    )
                  }
                >
                  As a section
                </Small>
                <Remove
                  label="Remove this round"
                  onClick={() => set({ rounds: b.rounds.filter((x) => x.id !== r.id) })}
                />
              </span>
            </li>
          ))}
        </ul>
      </Section>
      <Section title="How it looks" aside={image ? `${image.width} × ${image.height} px` : 'its picture is missing'}>
        {slide('Opacity', 'opacity', 0)}
        {slide('Brightness', 'brightness', -1)}
        {slide('Contrast', 'contrast', -1)}
        <Choice
          name="Pixels"
          value={b.filter}
          options={[
            ['smooth', 'smoothed'],
            ['pixels', 'as they are'],
          ]}
          onChange={(filter) => set({ filter })}
        />
        <Choice
          name="Lies"
          value={b.depth}
          options={[
            ['behind', 'behind all'],
            ['in place', 'in its place'],
            ['in front', 'in front of all'],
          ]}
          onChange={(depth) => set({ depth })}
        />
        <Choice
          name="Shown"
          value={b.seen}
          options={[
            ['always', 'always'],
            ['own view', 'only in its view'],
          ]}
          onChange={(seen) => set({ seen })}
        />
        <Check name="Picked in the view" value={b.pickable} onChange={(pickable) => set({ pickable })} />
      </Section>
    </>
  );
}
