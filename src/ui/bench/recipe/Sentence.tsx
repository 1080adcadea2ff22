'use client';
import { Fragment, type ReactNode } from 'react';
import type { ValueDefs } from '../../../core/recipe/values';
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
}

/** A step or move as a sentence with live values. */
export function Sentence({ title, sentence, defs, values, special, open, ...on }: SentenceProps) {
  const parts = sentence.split(/(\{\w+\})/);
  return (
    <span className="leading-[21px]">
      <b className="font-semibold">{title}</b>
      {parts.map((part, i) => {
        const name = /^\{(\w+)\}$/.exec(part)?.[1];
        if (!name) return <Fragment key={i}>{part}</Fragment>;
        const own = special?.(name);
        if (own !== undefined) return <Fragment key={i}>{own}</Fragment>;
        const def = defs[name];
        return def ? (
          <Value
            key={i}
            name={name}
            def={def}
            value={values[name] ?? def.default}
            onChange={(v, live) => on.onChange(name, v, live)}
            onSettle={on.onSettle}
            onCancel={on.onCancel}
            onOpen={open?.[name]}
          />
        ) : null;
      })}
      .
    </span>
  );
}
