'use client';
/** A value while it is typed: a number with its unit and arithmetic, a formula with the words that may be meant. */
import { useLayoutEffect, useRef, useState } from 'react';
import type { Triple } from '../../../core/math/affine';
import { completions, FormulaError, parse, type Word } from '../../../core/formula';
import {
  formatNumber,
  formatPoints,
  formatQuantity,
  parsePoints,
  parseQuantity,
  parseRelative,
  type LengthUnit,
  type QuantityKind,
} from '../../../core/recipe/quantity';
import { isFormula, type Expression, type ValueDef } from '../../../core/recipe/values';
import { answerFor, dialScope, dialsFor } from '../../../document/dials';
import { bench, workedOn } from '../store';
import { BY_FORMULA, clampTo, useReading, type ValueProps } from './reading';

/** A number may be a formula, typed after an equals sign; what is wrong with it is thrown, with its place. */
function formulaOf(text: string, def: ValueDef<unknown>): { formula: string } | undefined {
  if (!text.trim().startsWith('=') || !BY_FORMULA.includes(def.kind)) return undefined;
  const formula = text.trim().slice(1).trim();
  const { document } = bench.get();
  const scope = document ? dialScope(document, workedOn(bench.get())?.id) : dialScope({ units: 'mm' });
  answerFor(formula, def, scope);
  return { formula };
}

interface Offer {
  from: number;
  caret: number;
  list: Word[];
  at: number;
}

/** The dials that may be named where one types. */
function ownWords(): Word[] {
  const s = bench.get();
  const list = s.document ? dialsFor(s.document, workedOn(s)?.id) : [];
  return list.map((d) => ({ name: d.name, help: d.note ?? 'a dial', written: d.name }));
}

/** What stands in the field when typing begins: the value in full, with its unit. */
function fullText(def: ValueDef<unknown>, value: unknown, units: LengthUnit, digits: number): string {
  if (def.kind === 'line') return formatPoints(value as Triple[], units, digits);
  if (def.kind === 'expression') return (value as Expression).text;
  if (isFormula(value)) return `= ${value.formula}`;
  if (['toggle', 'choice', 'piece', 'material'].includes(def.kind)) return '= ';
  if (typeof value !== 'number') return typeof value === 'string' ? value : '';
  if (def.kind === 'length' || def.kind === 'angle')
    return formatQuantity(value, def.kind, units, def.digits ?? digits);
  return formatNumber(value, 'number');
}

export function Typing({
  def,
  value,
  onChange,
  onNext,
  begun,
  fresh,
  close,
}: ValueProps & { begun: string; fresh: boolean; close: () => void }) {
  const { units, digits } = useReading();
  const before = useRef(fullText(def, value, units, digits));
  const [text, setText] = useState(begun || before.current);
  const [wrong, setWrong] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const [offer, setOffer] = useState<Offer | null>(null);
  const written = def.kind === 'expression' || text.trim().startsWith('=');
  const offered = (now: string, caret: number) => {
    const formula = def.kind === 'expression' || now.trim().startsWith('=');
    const found = formula ? completions(now.slice(0, caret), ownWords()) : undefined;
    setOffer(found && found.list.length > 0 ? { ...found, caret, at: 0 } : null);
  };
  const take = ({ from, caret, list, at }: Offer) => {
    const word = list[at].written;
    setText(text.slice(0, from) + word + text.slice(caret));
    setOffer(null);
    requestAnimationFrame(() => input.current?.setSelectionRange(from + word.length, from + word.length));
  };
  useLayoutEffect(() => {
    input.current?.focus();
    // What was typed to begin with is gone on from; what stood there is typed over.
    if (!fresh) input.current?.select();
  }, [fresh]);
  const commit = (): boolean => {
    if (text === before.current) {
      close(); // nothing was typed: the value keeps the digits that are not shown
      return true;
    }
    if (def.kind === 'text') {
      onChange(text, false);
      close();
      return true;
    }
    try {
      const formula = formulaOf(text, def);
      if (formula) {
        onChange(formula, false);
        close();
        return true;
      }
      if (def.kind === 'expression') {
        parse(text);
        onChange({ text: text.trim(), unit: units }, false);
        close();
        return true;
      }
      if (def.kind === 'line') {
        onChange(parsePoints(text, units), false);
        close();
        return true;
      }
      if (['toggle', 'choice', 'piece', 'material'].includes(def.kind))
        throw new Error('A formula begins with an equals sign, as in = storeys > 3.');
      const kind = def.kind as QuantityKind;
      const x = typeof value === 'number' ? parseRelative(text, kind, units, value) : parseQuantity(text, kind, units);
      onChange(clampTo(def, x), false);
      close();
      return true;
    } catch (e) {
      setWrong((e as Error).message);
      input.current?.focus();
      if (e instanceof FormulaError) input.current?.setSelectionRange(e.at[0], Math.max(e.at[1], e.at[0] + 1));
      return false;
    }
  };
  return (
    <span className="relative">
      <input
        ref={input}
        className={`value-input ${def.kind === 'expression' ? 'formula' : ''}`}
        aria-label={def.label}
        aria-invalid={wrong !== ''}
        value={text}
        role={written ? 'combobox' : undefined}
        aria-expanded={written ? offer !== null : undefined}
        aria-controls={offer ? 'formula-words' : undefined}
        onChange={(e) => {
          setText(e.target.value);
          setWrong('');
          offered(e.target.value, e.target.selectionStart ?? e.target.value.length);
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (offer && (e.key === 'ArrowDown' || e.key === 'ArrowUp')) {
            e.preventDefault();
            const n = offer.list.length;
            setOffer({ ...offer, at: (offer.at + (e.key === 'ArrowDown' ? 1 : n - 1)) % n });
            return;
          }
          if (offer && e.key === 'Tab') {
            e.preventDefault();
            take(offer);
            return;
          }
          if (e.key === 'Enter') commit();
          if (e.key === 'Escape') close();
          if (e.key === 'Tab' && onNext) {
            e.preventDefault();
            if (commit()) onNext(e.shiftKey ? -1 : 1);
          }
        }}
        onBlur={() => {
          if (wrong) close();
          else commit();
        }}
        onPointerDown={(e) => e.stopPropagation()}
      />
      {offer && !wrong && (
        <ul
          id="formula-words"
          role="listbox"
          aria-label="What may be meant; Tab takes it"
          className="absolute left-0 top-6 z-30 w-60 rounded border border-line bg-base-100 py-1 text-[11px] shadow-lg"
        >
          {offer.list.map((w, i) => (
            <li
              key={w.name}
              role="option"
              aria-selected={i === offer.at}
              className={`cursor-pointer px-2 py-0.5 ${i === offer.at ? 'bg-wash' : ''}`}
              onPointerDown={(e) => {
                e.preventDefault();
                e.stopPropagation();
                take({ ...offer, at: i });
              }}
            >
              <b className="num font-semibold">{w.name}</b> <span className="quiet">{w.help}</span>
            </li>
          ))}
        </ul>
      )}
      {wrong && (
        <span
          role="alert"
          className="absolute left-0 top-6 z-30 w-52 rounded border border-wrong bg-base-100 px-2 py-1 text-[11px] text-wrong"
        >
          {wrong}
        </span>
      )}
    </span>
  );
}
