'use client';
import { Fragment, type ReactNode } from 'react';
import type { ValueDefs } from '../../../core/recipe/values';
import type { Typed } from '../store';
import { Value } from './Value';

export interface SentenceProps {
  title: string;
  sentence: string;
  defs: ValueDefs;
  values: Readonly<Record<string, unknown>>;
  onChange: (name: string, value: unknown, live: boolean) => void;
  onSettle: () => void;
  onCancel: () => void;
  /** What stands for a placeholder that is no value, such as {pick}. */
  special?: (name: string) => ReactNode | undefined;
  open?: Record<string, () => void>;
  /** The value that is being typed, told from outside; Tab goes on to the next. */
  typed?: Typed | null;
  onTyped?: (next: Typed | null) => void;
}

/** What stands close to the value before it. */
const MARK = /^[,.;:]/;

/** A step or move as a sentence with live values. */
export function Sentence({ title, sentence, defs, values, special, open, typed, onTyped, ...on }: SentenceProps) {
  const parts = sentence.split(/(\{\w+\})/);
  const nameOf = (part: string) => /^\{(\w+)\}$/.exec(part)?.[1];
  const typeable = parts.flatMap((p) => {
    const name = nameOf(p);
    return name && typeof defs[name]?.default === 'number' ? [name] : [];
  });
  const next = (name: string, way: 1 | -1) => {
    const i = typeable.indexOf(name);
    onTyped?.({ name: typeable[(i + way + typeable.length) % typeable.length], text: null });
  };
  return (
    <span className="leading-[21px]">
      <b className="font-semibold">{title}</b>
      {parts.map((part, i) => {
        const name = nameOf(part);
        // A comma stays with the value it follows.
        if (!name) return <Fragment key={i}>{i > 0 ? part.replace(MARK, '') : part}</Fragment>;
        const own = special?.(name);
        const def = defs[name];
        if (own === undefined && !def) return null;
        return (
          <span key={i} className="whitespace-nowrap">
            {own !== undefined ? (
              own
            ) : (
              <Value
                name={name}
                def={def}
                value={values[name] ?? def.default}
                onChange={(v, live) => on.onChange(name, v, live)}
                onSettle={on.onSettle}
                onCancel={on.onCancel}
                onOpen={open?.[name]}
                typed={typed?.name === name ? typed : undefined}
                onTypedDone={onTyped && (() => onTyped(null))}
                onNext={onTyped && ((way) => next(name, way))}
              />
            )}
            {i === parts.length - 2 && parts[i + 1] === '' ? '.' : MARK.exec(parts[i + 1])?.[0]}
          </span>
        );
      })}
      {/\}$/.test(sentence) ? '' : '.'}
    </span>
  );
}
