'use client';
/** What all ways of showing and typing a value have in common. */
import type { ValueDef } from '../../../core/recipe/values';
import { useBench, type Typed } from '../store';

const NONE: readonly never[] = [];

export const NUMERIC = ['length', 'angle', 'count', 'number'];
/** What may be a formula, typed after an equals sign. */
export const BY_FORMULA = [...NUMERIC, 'toggle', 'choice', 'piece', 'material'];

export interface ValueProps {
  name: string;
  def: ValueDef<unknown>;
  value: unknown;
  /** `live` while being dragged. */
  onChange: (value: unknown, live: boolean) => void;
  onSettle: () => void;
  onCancel: () => void;
  /** For values that are not typed: what a click does. */
  onOpen?: () => void;
  /** The number alone, where its unit stands beside it. */
  bare?: boolean;
  /** It is to be typed, with this for a beginning. */
  typed?: Typed;
  onTypedDone?: () => void;
  /** Tab, while it is typed. */
  onNext?: (way: 1 | -1) => void;
}

export const clampTo = (def: ValueDef<unknown>, x: number): number => {
  const whole = def.kind === 'count' ? Math.round(x) : x;
  return Math.min(def.max ?? Infinity, Math.max(def.min ?? -Infinity, whole));
};

export function useReading() {
  const units = useBench((s) => s.document?.units ?? 'mm');
  const digits = useBench((s) => s.document?.settings.precision ?? 3);
  const materials = useBench((s) => s.document?.materials ?? NONE);
  const pieces = useBench((s) => s.document?.pieces ?? NONE);
  return { units, digits, materials, pieces };
}
