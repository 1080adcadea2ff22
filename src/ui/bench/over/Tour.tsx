'use client';
/**
 * Five things to know, one at a time, beside what they are about. It can be left at any moment, and taken again from
 * the search.
 */
import { autoUpdate, flip, FloatingPortal, offset, shift, useFloating, type Placement } from '@floating-ui/react';
import { useEffect, useState } from 'react';
import { bench } from '../store';
import { noteTour } from './seen';

interface Stop {
  title: string;
  text: string;
  /** What it is about. */
  at: string;
  side: Placement;
}

const STOPS: readonly Stop[] = [
  {
    title: 'Six stages',
    text: 'A job goes from Gather to Ship. Go back whenever you like: nothing done later is lost by it.',
    at: '[aria-label="Stages"]',
    side: 'bottom',
  },
  {
    title: 'The view',
    text: 'Click to pick, right drag to turn round, wheel to come nearer. A right click tells what can be done there.',
    at: '[aria-label="Views"]',
    side: 'left',
  },
  {
    title: 'The tools that fit',
    text:
      'Choose what you pick, and only the tools for it stand beside. With one in hand, type a number for its ' +
      'value.',
    at: '[aria-label="Tools"]',
    side: 'top',
  },
  {
    title: 'The recipe',
    text: 'How the piece is made, in sentences. Drag any green value, or click it and type: nothing sets in stone.',
    at: '[aria-label^="Recipe"]',
    side: 'right',
  },
  {
    title: 'Anything else',
    text: 'Ctrl K finds every command, by other words too. The question mark shows all keys and gestures.',
    at: 'button[title="Find any command"]',
    side: 'bottom',
  },
];

function leave(): void {
  noteTour();
  bench.set({ over: null });
}

export function Tour() {
  const [i, setI] = useState(0);
  const stop = STOPS[i];
  const { refs, floatingStyles } = useFloating({
    placement: stop.side,
    whileElementsMounted: autoUpdate,
    middleware: [offset(12), flip({ padding: 10 }), shift({ padding: 10 })],
  });
  useEffect(() => {
    const about = document.querySelector(stop.at);
    refs.setReference(about);
    about?.classList.add('toured');
    return () => about?.classList.remove('toured');
  }, [stop, refs]);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      e.stopPropagation();
      leave();
    };
    window.addEventListener('keydown', key, true);
    return () => window.removeEventListener('keydown', key, true);
  }, []);
  const last = i === STOPS.length - 1;
  return (
    <FloatingPortal>
      <div
        ref={refs.setFloating}
        style={floatingStyles}
        role="dialog"
        aria-label="A short tour"
        className="z-50 w-72 rounded-box border border-line bg-base-100 p-4 shadow-xl"
      >
        <p className="quiet num mb-1">
          {i + 1} of {STOPS.length}
        </p>
        <h2 className="mb-1 font-serif text-[17px] font-semibold">{stop.title}</h2>
        <p className="mb-3">{stop.text}</p>
        <div className="flex justify-between">
          <button className="btn btn-sm btn-ghost" onClick={leave}>
            Leave the tour
          </button>
          <button autoFocus className="btn btn-sm btn-primary" onClick={() => (last ? leave() : setI(i + 1))}>
            {last ? 'Begin' : 'Next'}
          </button>
        </div>
      </div>
    </FloatingPortal>
  );
}
