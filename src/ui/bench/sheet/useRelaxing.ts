import { useEffect, useRef } from 'react';
import type { Mesh } from '../../../core/mesh';
import type { PickKind } from '../../../core/mesh/picks';
import { endProjecting, endRelaxing, relaxLive } from '../actions';
import type { RelaxingWay } from '../store';
import { facesAt, facesOfIslands, verticesAt } from './chosen';

interface Relaxable {
  mesh: Mesh | null;
  uv: Float32Array | undefined;
  ofFace: ArrayLike<number> | undefined;
  kind: PickKind;
  picked: ArrayLike<number>;
  commit(faces: number[], at: Float32Array): void;
}

/** Relaxing goes on beside the page until it is kept or dropped; and ends, as projecting does, where the piece changes. */
export function useRelaxing({ mesh, uv, ofFace, kind, picked, commit }: Relaxable) {
  const relaxedMesh = useRef(mesh);
  useEffect(() => {
    if (relaxedMesh.current !== mesh) {
      endRelaxing();
      endProjecting();
    }
    relaxedMesh.current = mesh;
  }, [mesh]);
  useEffect(
    () => () => {
      endRelaxing();
      endProjecting();
    },
    [],
  );
  return {
    relax: (of: readonly number[], how: RelaxingWay): void => {
      if (!mesh) return;
      void relaxLive(how, {
        faces: ofFace ? facesOfIslands(ofFace, of) : [],
        held: how.picked === 'stays' ? [...verticesAt(mesh, kind, picked)] : [],
        ...(how.picked === 'moves' ? { only: [...facesAt(mesh, kind, picked)] } : {}),
      });
    },
    keepRelaxed: (): void => {
      const found = endRelaxing();
      if (found?.now && uv?.length === found.now.uv.length) commit([...found.faces], found.now.uv);
    },
  };
}
