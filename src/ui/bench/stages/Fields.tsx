'use client';
/** Small parts that the side panels share. */
import { IconX } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import type { ValueDef } from '../../../core/recipe/values';
import { Value } from '../recipe/Value';
import { session } from '../session';

export const Section = ({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) => (
  <section className="panel-section" aria-label={title}>
    <div className="row">
      <h2 className="panel-title">{title}</h2>
      {aside && <span className="quiet flex items-center gap-1">{aside}</span>}
    </div>
    {children}
  </section>
);

/** The small cross at the end of a row: its label says what it takes away. */
export const Remove = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <button className="btn btn-ghost btn-square icon-small" aria-label={label} onClick={onClick}>
    <IconX size={12} stroke={1.6} />
  </button>
);

/** A name and its figure. */
export const Line = ({ name, value, tone }: { name: string; value: string; tone?: string }) => (
  <div className="row">
    <dt className="quiet">{name}</dt>
    <dd className={`num font-semibold ${tone ?? ''}`}>{value}</dd>
  </div>
);

/** Three values in a row, live as they are dragged. */
export const Three = ({
  name,
  unit,
  defs,
  values,
  onChange,
}: {
  name: string;
  unit?: string;
  defs: readonly ValueDef<number>[];
  values: readonly number[];
  onChange: (axis: 0 | 1 | 2, value: number, live: boolean) => void;
}) => (
  <div className="row !gap-1">
    <span className="quiet w-16 shrink-0 whitespace-nowrap">
      {name}
      {unit && `, ${unit}`}
    </span>
    <span className="flex flex-1 justify-between">
      {values.map((v, i) => (
        <Value
          key={i}
          name={`${name.toLowerCase()}-${'xyz'[i]}`}
          def={defs[i]}
          value={v}
          bare={defs[i].kind === 'length'}
          onChange={(x, live) => onChange(i as 0, x as number, live)}
          onSettle={() => session.settle()}
          onCancel={() => session.cancel()}
        />
      ))}
    </span>
  </div>
);

export function Choice<T extends string>({
  name,
  value,
  options,
  onChange,
}: {
  name: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
}) {
  return (
    <label className="row">
      <span className="quiet">{name}</span>
      <select
        className="select select-xs max-w-36"
        value={value}
        onChange={(change) => onChange(change.target.value as T)}
      >
        {options.map(([v, label]) => (
          <option key={v} value={v}>
            {label}
          </option>
        ))}
      </select>
    </label>
  );
}

export const Check = ({ name, value, onChange }: { name: string; value: boolean; onChange: (v: boolean) => void }) => (
  <label className="row">
    <span className="quiet">{name}</span>
    <input
      type="checkbox"
      className="checkbox checkbox-xs"
      checked={value}
      onChange={(change) => onChange(change.target.checked)}
    />
  </label>
);

/** Small buttons beside each other. */
export const Buttons = ({ children }: { children: ReactNode }) => (
  <div className="mt-1 flex flex-wrap gap-1">{children}</div>
);
export const Small = ({
  onClick,
  title,
  disabled,
  pressed,
  children,
}: {
  onClick: () => void;
  title?: string;
  disabled?: boolean;
  pressed?: boolean;
  children: ReactNode;
}) => (
  <button
    className={`btn btn-xs font-normal ${pressed ? '!bg-wash !border-value' : ''}`}
    aria-pressed={pressed}
    title={title}
    disabled={disabled}
    onClick={onClick}
  >
    {children}
  </button>
);
