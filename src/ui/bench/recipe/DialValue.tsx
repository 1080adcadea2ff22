'use client';
/**
 * The control of a dial, by what it is: a number or a slider, a switch, a word, a thing of the project, a colour, a
 * ramp.
 */
import { hexOf } from '../../../document/telling';
import type { Dial } from '../../../document/types';
import { dialDef, shownOf, storedOf } from '../dials';
import { session } from '../session';
import { RampValue } from './RampValue';
import { Value } from './Value';

export interface DialValueProps {
  dial: Dial;
  /** For tests and labels: `dial-…` in the list of dials. */
  name: string;
  /** What it stands at here, where that is not what the dial itself says: a number, a word, or a formula. */
  value?: unknown;
  onChange: (part: Partial<Dial> | { formula: unknown }, live: boolean) => void;
}

export function DialValue({ dial, name, value, onChange }: DialValueProps) {
  const settle = () => session.settle();
  if (dial.kind === 'colour')
    return (
      <input
        type="color"
        className="h-5 w-9 cursor-pointer rounded border border-line bg-base-100 p-0.5"
        aria-label={`${dial.name}: ${hexOf((value as number | undefined) ?? dial.value)}`}
        value={hexOf((value as number | undefined) ?? dial.value)}
        onChange={(e) => onChange({ value: parseInt(e.target.value.slice(1), 16) }, true)}
        onBlur={settle}
      />
    );
  if (dial.kind === 'ramp')
    return <RampValue dial={dial} onChange={(points, live) => onChange({ points }, live)} onSettle={settle} />;
  const at = value === undefined ? dial.value : value;
  const shown = typeof at === 'number' ? shownOf(dial, at) : at;
  const slid = dial.slider && dial.min !== undefined && dial.max !== undefined && typeof at === 'number';
  return (
    <>
      {slid && (
        <input
          type="range"
          className="range range-primary range-xs w-20"
          aria-label={dial.name}
          min={dial.min}
          max={dial.max}
          step={dial.kind === 'count' ? 1 : 'any'}
          value={at as number}
          onChange={(e) => onChange({ value: Number(e.target.value) }, true)}
          onPointerUp={settle}
          onKeyUp={settle}
        />
      )}
      <Value
        name={name}
        def={dialDef(dial)}
        value={shown}
        onChange={(v, live) => onChange(typeof v === 'object' && v !== null ? { formula: v } : storedOf(dial, v), live)}
        onSettle={settle}
        onCancel={() => session.cancel()}
      />
    </>
  );
}
