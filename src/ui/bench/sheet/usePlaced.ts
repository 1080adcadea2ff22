import { useEffect, useMemo, useState } from 'react';
import type { Mesh } from '../../../core/mesh';
import type { Step } from '../../../core/recipe';
import type { HandPlaces } from '../../../core/uv/follow/placed';
import type { OfSheet } from '../../../document/changes';
import { session } from '../session';

const NONE: ReadonlyMap<number, readonly number[]> = new Map();

/**
 * Which faces lie where a hand put them: asked by a face's key, the answer is the keys under which that is kept; its
 * own, or those of faces that are gone and whose place it has taken.
 */
export function usePlaced(
  piece: string | undefined,
  step: Step | undefined,
  sheet: OfSheet,
  mesh: Mesh | null,
): (face: number) => readonly number[] | undefined {
  const own = useMemo(() => new Set((step?.values[sheet] as HandPlaces | undefined)?.face ?? []), [step, sheet]);
  const [heirs, setHeirs] = useState(NONE);
  useEffect(() => {
    let current = true;
    const there = own.size > 0 && mesh ? new Set(mesh.faceKey) : undefined;
    const gone = there !== undefined && [...own].some((k) => !there.has(k));
    const asked = gone && piece && step ? session.crew?.ask('placed', { piece, step: step.id, sheet }) : undefined;
    void Promise.resolve(asked).then(
      (found) => {
        if (current) setHeirs(found ? new Map(found) : NONE);
      },
      () => undefined, // asked again with the next picture
    );
    return () => {
      current = false;
    };
  }, [own, piece, step, sheet, mesh]);
  return (face) => (own.has(face) ? [face] : heirs.get(face));
}
