'use client';
import { useEffect, useRef, useState } from 'react';
import { formatNumber, formatQuantity, parseQuantity, parseRelative } from '../../../core/recipe/quantity';
import type { Pick } from '../../../core/mesh/picks';
import type { Coloured, Move, Part, ValueDef } from '../../../core/recipe/values';
import type { Material } from '../../../document/types';
import { useBench } from '../store';

const NONE: readonly Material[] = [];

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
}

const plural = (n: number, [one, many]: readonly [string, string]) => `${n} ${n === 1 ? one : many}`;

/** How a value reads in a sentence. */
export function readValue(
  def: ValueDef<unknown>,
  value: unknown,
  units: 'mm' | 'cm' | 'm' | 'in' | 'ft',
  materials: readonly { id: string; name: string }[],
  digits = 3,
): string {
  switch (def.kind) {
    case 'length':
    case 'angle':
      return value === 0 && def.zero
        ? def.zero
        : formatQuantity(value as number, def.kind, units, def.digits ?? digits);
    case 'parts':
      return plural((value as Part[]).length, ['piece', 'pieces']);
    case 'count':
      return def.noun ? plural(value as number, def.noun) : String(value);
    case 'number':
      return value === 0 && def.zero
        ? def.zero
        : `${formatNumber(value as number, 'number')}${def.unit ? ` ${def.unit}` : ''}`;
    case 'choice':
      return def.options?.find((o) => o[0] === value)?.[1] ?? String(value);
    case 'toggle':
      return def.options?.find((o) => o[0] === String(value))?.[1] ?? String(value);
    case 'pick':
      return plural((value as Pick).keys.length, def.noun ?? ['element', 'elements']);
    case 'moves':
      return plural((value as Move[]).length, ['move', 'moves']);
    case 'colors':
      return plural(new Set((value as Coloured[]).map((c) => c.material)).size, ['other', 'others']);
    case 'text':
      return materials.find((m) => m.id === value)?.name ?? (String(value) || 'no material');
    default:
      return '…';
  }
}

/**
 * A value in a sentence: drag sideways to scrub (Shift fine, Ctrl coarse), click to type with units and arithmetic, Enter keeps, Esc
 * takes it back. Choices go to the next on a click.
 */
export function Value({ name, def, value, onChange, onSettle, onCancel, onOpen, bare }: ValueProps) {
  const units = useBench((s) => s.document?.units ?? 'mm'),
    digits = useBench((s) => s.document?.settings.precision ?? 3),
    materials = useBench((s) => s.document?.materials ?? NONE);
  const [typing, setTyping] = useState<string | null>(null),
    [wrong, setWrong] = useState('');
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null),
    dragged = useRef(false),
    begun = useRef(''),
    input = useRef<HTMLInputElement>(null);
  const numeric = typeof value === 'number' && ['length', 'angle', 'count', 'number'].includes(def.kind);
  useEffect(() => {
    if (typing !== null) {
      input.current?.focus();
      input.current?.select();
    }
  }, [typing !== null]); // eslint-disable-line react-hooks/exhaustive-deps

  const clamp = (x: number) =>
    Math.min(def.max ?? Infinity, Math.max(def.min ?? -Infinity, def.kind === 'count' ? Math.round(x) : x));
  const perPixel = () =>
    def.kind === 'length'
      ? units === 'm' || units === 'ft'
        ? 0.01
        : units === 'mm'
          ? 0.001
          : 0.002
      : def.kind === 'angle'
        ? Math.PI / 180
        : def.kind === 'count'
          ? 0.08
          : Math.max(0.005, Math.abs(value as number) * 0.005);

  if (typing !== null) {
    const commit = () => {
      if (typing === begun.current) {
        setTyping(null);
        return;
      } // nothing was typed: the value keeps the digits that are not shown
      if (def.kind === 'text') {
        onChange(typing, false);
        setTyping(null);
        return;
      }
      try {
        onChange(
          clamp(
            numeric ? parseRelative(typing, def.kind, units, value as number) : parseQuantity(typing, def.kind, units),
          ),
          false,
        );
        setTyping(null);
        setWrong('');
      } catch (e) {
        setWrong((e as Error).message);
        input.current?.focus();
      }
    };
    return (
      <span className="relative">
        <input
          ref={input}
          className="value-input"
          aria-label={def.label}
          aria-invalid={wrong !== ''}
          value={typing}
          onChange={(e) => {
            setTyping(e.target.value);
            setWrong('');
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') commit();
            if (e.key === 'Escape') {
              setTyping(null);
              setWrong('');
            }
          }}
          onBlur={() => {
            if (typing !== null) {
              if (wrong) {
                setTyping(null);
                setWrong('');
              } else commit();
            }
          }}
          onPointerDown={(e) => e.stopPropagation()}
        />
        {wrong && (
          <span
            role="alert"
            className="absolute left-0 top-6 z-30 w-52 rounded border border-wrong bg-paper px-2 py-1 text-[11px] text-wrong"
          >
            {wrong}
          </span>
        )}
      </span>
    );
  }

  const text =
    bare && numeric
      ? formatNumber(value as number, def.kind, units, Math.min(digits, 2))
      : readValue(def, value, units, materials, digits);
  const click = () => {
    if (onOpen) {
      onOpen();
      return;
    }
    if (numeric) {
      begun.current =
        def.kind === 'length' || def.kind === 'angle'
          ? formatQuantity(value as number, def.kind, units, def.digits ?? digits)
          : formatNumber(value as number, 'number');
      setTyping(begun.current);
    } else if (def.kind === 'choice') {
      const i = def.options!.findIndex((o) => o[0] === value);
      onChange(def.options![(i + 1) % def.options!.length][0], false);
    } else if (def.kind === 'toggle') onChange(!value, false);
    else if (def.kind === 'text') setTyping(String(value));
  };
  return (
    <button
      type="button"
      className={`value ${numeric ? '' : 'plain'}`}
      aria-label={`${def.label}: ${text}`}
      title={numeric ? `${def.label}: drag, or click to type` : def.label}
      data-value={name}
      onPointerDown={(e) => {
        e.stopPropagation();
        if (!numeric || e.button !== 0) return;
        drag.current = { x: e.clientX, from: value as number, moved: false };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (!d) return;
        const dx = e.clientX - d.x;
        if (!d.moved && Math.abs(dx) < 3) return;
        d.moved = true;
        const step = perPixel() * (e.shiftKey ? 0.1 : e.ctrlKey ? 10 : 1),
          x = d.from + dx * step;
        const round =
          def.kind === 'length' || def.kind === 'angle' ? Math.round(x / (perPixel() * 0.1)) * perPixel() * 0.1 : x;
        onChange(clamp(Number(round.toPrecision(10))), true);
      }}
      onPointerUp={(e) => {
        const d = drag.current;
        drag.current = null;
        dragged.current = !!d?.moved;
        if (d?.moved) {
          onSettle();
          e.preventDefault();
        }
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape' && drag.current?.moved) {
          drag.current = null;
          onCancel();
          e.stopPropagation();
        }
        if (numeric && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
          e.preventDefault();
          e.stopPropagation();
          onChange(
            clamp(
              Number(
                (
                  (value as number) +
                  (e.key === 'ArrowUp' ? 1 : -1) * (def.kind === 'count' ? 1 : perPixel() * (e.shiftKey ? 0.1 : 1))
                ).toPrecision(10),
              ),
            ),
            false,
          );
        }
      }}
      onClick={() => {
        if (dragged.current) dragged.current = false;
        else click();
      }}
    >
      {text}
    </button>
  );
}
