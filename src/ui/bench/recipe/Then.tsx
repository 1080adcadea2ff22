'use client';
/** The field at the end of a recipe in which the next step is found. */
import { useState } from 'react';
import { isStart, type StepDef } from '../../../core/recipe/define';
import { stepDefs } from '../../../core/steps';
import { addStep } from '../actions';

/** How near a step comes to what was typed: by its title first; below 0 where it does not. */
function rankOf(words: string, { title, help, words: others = '' }: StepDef): number {
  const name = title.toLowerCase();
  if (name.startsWith(words)) return 0;
  if (name.includes(words)) return 1;
  if (others.toLowerCase().includes(words)) return 2;
  return help.toLowerCase().includes(words) ? 3 : -1;
}

/** "Then…": type to find the next step. `over`: it hangs from the top of something, and goes away when it is left. */
export function Then({ add = addStep, over }: { add?: (kind: string) => void; over?: () => void }) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const words = text.trim().toLowerCase();
  const found = stepDefs()
    .flatMap((d) => {
      const rank = d.hidden || isStart(d) ? -1 : rankOf(words, d);
      return rank < 0 ? [] : [{ d, rank }];
    })
    .sort((a, b) => a.rank - b.rank)
    .map(({ d }) => d);
  const choose = (kind: string) => {
    add(kind);
    setText('');
    setOpen(false);
    (document.activeElement as HTMLElement | null)?.blur();
  };
  return (
    <div className="relative">
      <div className="flex items-center rounded-md border border-dashed border-soft px-2.5 py-1">
        <input
          data-then
          className="w-full bg-transparent outline-none"
          autoFocus={over !== undefined}
          placeholder="Then…"
          aria-label="Add a step"
          role="combobox"
          aria-expanded={open}
          aria-controls="then-list"
          value={text}
          onFocus={() => setOpen(true)}
          onBlur={() =>
            setTimeout(() => {
              setOpen(false);
              over?.();
            }, 150)
          }
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
            setOpen(true);
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'ArrowDown') {
              setAt(Math.min(found.length - 1, at + 1));
              e.preventDefault();
            }
            if (e.key === 'ArrowUp') {
              setAt(Math.max(0, at - 1));
              e.preventDefault();
            }
            if (e.key === 'Enter' && found[at]) choose(found[at].kind);
            if (e.key === 'Escape') e.currentTarget.blur();
          }}
        />
        <kbd className="num quiet rounded border border-line px-1.5">/</kbd>
      </div>
      {open && (
        <ul
          id="then-list"
          role="listbox"
          aria-label="Steps"
          className={
            `scroll-thin absolute ${over ? 'top-9' : 'bottom-9'} left-0 z-20 max-h-72 w-full overflow-y-auto ` +
            'rounded-lg border border-line bg-paper py-1 shadow-lg'
          }
        >
          {found.map((d, i) => (
            <li
              key={d.kind}
              role="option"
              aria-selected={i === at}
              className={`cursor-pointer px-3 py-1 ${i === at ? 'bg-wash' : ''}`}
              onPointerDown={(e) => {
                e.preventDefault();
                choose(d.kind);
              }}
            >
              <b className="font-semibold">{d.title}</b>
              <div className="quiet text-[11px]">{d.help}</div>
            </li>
          ))}
          {found.length === 0 && <li className="quiet px-3 py-1">No step is called that.</li>}
        </ul>
      )}
    </div>
  );
}
