'use client';
import { useRef, useState } from 'react';
import { formatNumber, type LengthUnit, type QuantityKind } from '../../../core/recipe/quantity';
import { isFormula, type ValueDef } from '../../../core/recipe/values';
import { answerFor, dialScope } from '../../../document/dials';
import { makeDial } from '../dials';
import { MenuAt, MenuButton, type MenuItem } from '../../parts/Tooltip';
import { bench, useBench, workedOn } from '../store';
import { readValue } from '../../../document/readvalue';
import { BY_FORMULA, clampTo, NUMERIC, useReading, type ValueProps } from './reading';
import { Typing } from './Typing';

/** Kinds that are typed as text. */
const TYPED = ['text', 'line', 'expression'];

/** How far a pixel goes. */
function perPixel(def: ValueDef<unknown>, value: unknown, units: LengthUnit): number {
  if (def.kind === 'length') return { m: 0.01, ft: 0.01, mm: 0.001, cm: 0.002, in: 0.002 }[units];
  if (def.kind === 'angle') return Math.PI / 180;
  if (def.kind === 'count') return 0.08;
  return Math.max(0.005, Math.abs(value as number) * 0.005);
}

/**
 * A value in a sentence: drag sideways to scrub (Shift fine, Ctrl coarse), click to type with units and arithmetic,
 * Enter keeps, Esc
 * takes it back. Choices go to the next on a click; things of the project are chosen from a list.
 */
export function Value(props: ValueProps) {
  const { def, value, typed } = props;
  const [typing, setTyping] = useState<string | null>(null);
  const begun = typed ? (typed.text ?? '') : typing;
  if (begun !== null)
    return (
      <Typing
        {...props}
        begun={begun}
        fresh={typed !== undefined && typed.text !== null}
        close={() => {
          setTyping(null);
          props.onTypedDone?.();
        }}
      />
    );
  const named = ['piece', 'pieces', 'material'].includes(def.kind) && !isFormula(value);
  if (named) return <Named {...props} type={() => setTyping('')} />;
  const numeric = NUMERIC.includes(def.kind) && typeof value === 'number';
  return numeric ? <Scrub {...props} type={() => setTyping('')} /> : <Plain {...props} type={() => setTyping('')} />;
}

/** What a formula comes to now, as its kind of number reads; empty where it cannot be worked out. */
function resultOf(value: unknown, def: ValueDef<unknown>, reading: ReturnType<typeof useReading>): string {
  const s = bench.get();
  if (!isFormula(value) || !s.document) return '';
  try {
    const x = answerFor(value.formula, def, dialScope(s.document, workedOn(s)?.id));
    return readValue(def, def.kind === 'count' ? Math.round(x as number) : x, reading);
  } catch {
    return '';
  }
}

/** What a right click offers: the value made a dial, or a formula in its place. */
function useMaking({
  name,
  def,
  value,
  onChange,
  type,
}: Pick<ValueProps, 'name' | 'def' | 'value' | 'onChange'> & { type?: () => void }) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const able = BY_FORMULA.includes(def.kind) && !name.startsWith('dial-');
  const made = (of: 'piece' | 'project'): MenuItem => ({
    id: of,
    label: of === 'piece' ? 'Make it a dial of this piece' : 'Make it a dial of the project',
    run: () => makeDial(def, value, onChange, of),
  });
  const items = isFormula(value) ? [] : [made('project'), made('piece')];
  if (type) items.push({ id: 'formula', label: 'Write a formula', run: type });
  return {
    open: (e: React.MouseEvent) => {
      // A dial of its own stands in the list of dials; it is none again.
      if (!able || items.length === 0) return;
      e.preventDefault();
      e.stopPropagation();
      setAt({ x: e.clientX, y: e.clientY });
    },
    menu: at && <MenuAt {...at} label="What can be made of it" items={items} close={() => setAt(null)} />,
  };
}

/** A number: dragged, or stepped by the arrows, or typed after a click. */
function Scrub({
  name,
  def,
  value,
  onChange,
  onSettle,
  onCancel,
  onOpen,
  bare,
  type,
}: ValueProps & { type: () => void }) {
  const reading = useReading();
  const asking = useMaking({ name, def, value, onChange });
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null);
  const dragged = useRef(false);
  const x = value as number;
  const pixel = perPixel(def, value, reading.units);
  const clamp = (to: number) => clampTo(def, Number(to.toPrecision(10)));
  const shown = bare
    ? formatNumber(x, def.kind as QuantityKind, reading.units, Math.min(reading.digits, 2))
    : readValue(def, value, reading);
  const move = (e: React.PointerEvent) => {
    const d = drag.current;
    if (!d) return;
    const dx = e.clientX - d.x;
    if (!d.moved && Math.abs(dx) < 3) return;
    d.moved = true;
    const coarse = e.ctrlKey ? 10 : 1;
    const to = d.from + dx * pixel * (e.shiftKey ? 0.1 : coarse);
    const even = def.kind === 'length' || def.kind === 'angle';
    onChange(clamp(even ? Math.round(to / (pixel * 0.1)) * pixel * 0.1 : to), true);
  };
  const key = (e: React.KeyboardEvent) => {
    if (e.key === 'Escape' && drag.current?.moved) {
      drag.current = null;
      onCancel();
      e.stopPropagation();
    }
    if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
    e.preventDefault();
    e.stopPropagation();
    const step = def.kind === 'count' ? 1 : pixel * (e.shiftKey ? 0.1 : 1);
    onChange(clamp(x + (e.key === 'ArrowUp' ? step : -step)), false);
  };
  const button = (
    <button
      type="button"
      className="value"
      aria-label={`${def.label}: ${shown}`}
      title={`${def.label}: drag, click to type, right-click to make it a dial`}
      data-value={name}
      onPointerDown={(e) => {
        e.stopPropagation();
        if (e.button !== 0) return;
        drag.current = { x: e.clientX, from: x, moved: false };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={(e) => {
        dragged.current = !!drag.current?.moved;
        drag.current = null;
        if (!dragged.current) return;
        onSettle();
        e.preventDefault();
      }}
      onKeyDown={key}
      onContextMenu={asking.open}
      onClick={() => {
        if (dragged.current) dragged.current = false;
        else (onOpen ?? type)();
      }}
    >
      {shown}
    </button>
  );
  return (
    <>
      {button}
      {asking.menu}
    </>
  );
}

/** A word: a click goes to the next choice, opens what lies behind it, or begins to type. */
function Plain({ name, def, value, onChange, onOpen, type }: ValueProps & { type: () => void }) {
  const reading = useReading();
  const asking = useMaking({ name, def, value, onChange, type });
  const shown = readValue(def, value, reading);
  useBench((s) => s.document); // what it comes to changes with the dials
  const result = resultOf(value, def, reading);
  const click = () => {
    const options = def.options ?? [];
    if (onOpen) onOpen();
    else if (isFormula(value)) type();
    else if (def.kind === 'choice') {
      const i = options.findIndex((o) => o[0] === value);
      onChange(options[(i + 1) % options.length][0], false);
    } else if (def.kind === 'toggle') onChange(!value, false);
    else if (TYPED.includes(def.kind) || BY_FORMULA.includes(def.kind)) type();
  };
  const written = def.kind === 'expression' || isFormula(value);
  const parts = {
    'aria-label': `${def.label}: ${shown}${result && result !== shown ? `, now ${result}` : ''}`,
    title: def.label,
    'data-value': name,
    onPointerDown: (e: React.PointerEvent) => e.stopPropagation(),
    onContextMenu: asking.open,
    onClick: (e: React.MouseEvent<HTMLElement>) => {
      click();
      // After a click by the pointer Enter keeps what is in hand; it does not click this once more.
      if (e.detail > 0) e.currentTarget.blur();
    },
  };
  const words = (
    <>
      {shown}
      {result && <span className="formula-result">{result}</span>}
    </>
  );
  // A formula goes over lines as words do, and what follows it stands right after it: a button would be a box.
  const button = written ? (
    <span
      role="button"
      tabIndex={0}
      className="value plain formula"
      {...parts}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        e.stopPropagation();
        click();
      }}
    >
      {words}
    </span>
  ) : (
    <button type="button" className="value plain" {...parts}>
      {words}
    </button>
  );
  return (
    <>
      {button}
      {asking.menu}
    </>
  );
}

/** A thing of the project, chosen from a list. */
function Named({ name, def, value, onChange, type }: ValueProps & { type: () => void }) {
  const reading = useReading();
  const asking = useMaking({ name, def, value, onChange, type });
  const own = useBench((s) => s.piece);
  const meshes = reading.pieces.filter((p) => p.kind === 'mesh' && p.id !== own);
  const list = def.kind === 'material' ? reading.materials : meshes;
  const shown = readValue(def, value, reading);
  const several = def.kind === 'pieces' ? (value as string[]) : undefined;
  // Of several each click takes one in or out.
  const changed = (id: string): unknown => {
    if (!several || id === '') return several ? [] : id;
    return several.includes(id) ? several.filter((x) => x !== id) : [...several, id];
  };
  const items = [{ id: '', name: 'none' }, ...list].map((x) => ({
    id: x.id || 'none',
    label: several?.includes(x.id) ? `✓ ${x.name}` : x.name,
    run: () => onChange(changed(x.id), false),
  }));
  return (
    <span onContextMenu={asking.open}>
      <MenuButton items={items} label={`${def.label}: ${shown}`} placement="bottom-start">
        <button type="button" className="value plain" data-value={name}>
          {shown}
        </button>
      </MenuButton>
      {asking.menu}
    </span>
  );
}
