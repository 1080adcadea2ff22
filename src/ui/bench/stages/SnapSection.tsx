'use client';
import { IconMagnet } from '@tabler/icons-react';
import { angle, length } from '../../../core/recipe/values';
import { Value } from '../recipe/Value';
import { bench, useBench, type SnapKinds } from '../store';
import { Buttons, Section, Small } from './Fields';

const STEP_OF = {
  move: length('Move by', 0.001, { min: 0.00001, max: 100 }),
  turn: angle('Turn by', 5, { min: 0.001, max: Math.PI }),
};
const KINDS: readonly (readonly [keyof SnapKinds, string])[] = [
  ['grid', 'Step'],
  ['vertex', 'Vertex'],
  ['middle', 'Middle'],
  ['edge', 'Edge'],
  ['face', 'Face'],
  ['pivot', 'Pivot'],
  ['texel', 'Texel'],
];

export function SnapSection() {
  const snap = useBench((s) => s.snap);
  const set = (part: Partial<typeof snap>) => bench.set((s) => ({ snap: { ...s.snap, ...part } }));
  return (
    <Section
      title="Snap"
      aside={
        <button
          className="btn btn-ghost btn-square icon-btn"
          aria-pressed={snap.on}
          aria-label="Snapping"
          title="Snapping; hold Ctrl for the other way"
          style={snap.on ? { background: 'var(--value-wash)', color: 'var(--value)' } : undefined}
          onClick={() => set({ on: !snap.on })}
        >
          <IconMagnet size={15} stroke={1.6} />
        </button>
      }
    >
      {(['move', 'turn'] as const).map((name) => (
        <div className="row" key={name}>
          <span className="quiet">{STEP_OF[name].label}</span>
          <Value
            name={name}
            def={STEP_OF[name]}
            value={snap[name]}
            onChange={(v) => set({ [name]: v as number })}
            onSettle={() => undefined}
            onCancel={() => undefined}
          />
        </div>
      ))}
      <Buttons>
        {KINDS.map(([k, label]) => (
          <Small key={k} pressed={snap.kinds[k]} onClick={() => set({ kinds: { ...snap.kinds, [k]: !snap.kinds[k] } })}>
            {label}
          </Small>
        ))}
      </Buttons>
    </Section>
  );
}
