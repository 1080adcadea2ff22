'use client';
import { IconFold } from '@tabler/icons-react';
import { useState } from 'react';
import { foldSteps } from '../pieceActions';
import type { RecipeMap } from './graph';

/** Folds what is chosen under a name, or takes a fold apart. */
export function FoldButton({ map, chosen }: { map: RecipeMap; chosen: readonly string[] }) {
  const [name, setName] = useState<string | null>(null);
  const slips = map.slips.filter((s) => chosen.includes(s.id));
  const folded = slips.length === 1 && slips[0].fold !== undefined;
  const can = folded || (slips.length > 1 && slips.every((s) => s.piece === slips[0].piece));
  const steps = slips.flatMap((s) => s.steps.map((x) => x.id));
  const finish = () => {
    const to = (name ?? '').trim();
    setName(null);
    if (to) foldSteps(slips[0].piece, steps, to);
  };
  if (name !== null)
    return (
      <input
        autoFocus
        className="input input-xs w-28"
        aria-label="Name of the fold"
        value={name}
        onChange={(e) => setName(e.target.value)}
        onBlur={finish}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') finish();
          if (e.key === 'Escape') setName(null);
        }}
      />
    );
  const label = folded ? 'Take the fold apart' : 'Fold the chosen steps under a name';
  return (
    <button
      className="btn btn-ghost btn-square icon-btn"
      aria-label={label}
      title={can ? label : 'Choose several steps of one recipe by Shift and a click'}
      disabled={!can}
      onClick={() => (folded ? foldSteps(slips[0].piece, steps, undefined) : setName('fold'))}
    >
      <IconFold size={15} stroke={1.6} />
    </button>
  );
}
