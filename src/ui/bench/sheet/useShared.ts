import { useEffect, useState } from 'react';
import type { SharedLayout } from '../../../core/recipe/values';
import type { Piece } from '../../../document/types';
import { session } from '../session';
import { useBench } from '../store';

export interface SharedNow {
  /** The step that lays the piece out with others, and the one that lays it out alone. */
  step: string;
  alone: string | undefined;
  /** How many pieces there are besides it. */
  count: number;
  /** The sheet with all of them is seen. */
  seen: boolean;
  /** The borders of islands of the others, where they are known: 4 numbers per side. */
  others?: Float32Array;
}

/** The sheet that a piece shares with others; null where it has its own. */
export function useShared(piece: Piece | undefined, step: string | null): SharedNow | null {
  const share = piece?.recipe.findLast((s) => s.kind === 'share' && s.on);
  const seen = share !== undefined && step === share.id;
  const edited = useBench((s) => s.edited);
  const [others, setOthers] = useState<{ of: unknown; sides: Float32Array } | null>(null);
  useEffect(() => {
    if (!seen || !piece || !share) return undefined;
    let gone = false;
    session.crew?.ask('sharers', { piece: piece.id, step: share.id }).then(
      (sides) => {
        if (!gone) setOthers({ of: share.id, sides });
      },
      () => undefined, // the step says what is wrong
    );
    return () => {
      gone = true;
    };
  }, [piece, share, seen, edited]);
  if (!piece || !share) return null;
  const layouts = share.values.layouts as readonly SharedLayout[];
  return {
    step: share.id,
    alone: piece.recipe.findLast((s) => s.kind === 'unwrap')?.id,
    count: layouts.length - 1,
    seen,
    others: seen && others?.of === share.id ? others.sides : undefined,
  };
}
