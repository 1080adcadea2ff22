/** What the workers answered last. */
import { Mesh } from '../../../core/mesh/mesh';
import type { UvFigures } from '../../../core/uv/measure';
import type { Edited, Facts, FoundAnchors, PieceShown, TreeNote } from '../../../workers/protocol';

export interface AnswersSlice {
  anchors: FoundAnchors;
  trees: readonly TreeNote[];
  shown: ReadonlyMap<string, PieceShown>;
  edited: Edited | null;
  /** The mesh of `edited`, where its elements are picked. */
  mesh: Mesh | null;
  facts: Facts | null;
  uv: UvFigures | null;
  working: { step: string; share: number } | null;
}

export const answersSlice: AnswersSlice = {
  anchors: {},
  trees: [],
  shown: new Map(),
  edited: null,
  mesh: null,
  facts: null,
  uv: null,
  working: null,
};

export const meshOf = ({ mesh }: Edited): Mesh =>
  new Mesh({
    ...mesh!,
    attributes: {
      ...(mesh!.uv ? { uv: { domain: 'corner', width: 2, data: mesh!.uv } } : {}),
      ...(mesh!.slot ? { material: { domain: 'face', width: 1, data: mesh!.slot } } : {}),
      ...(mesh!.group ? { group: { domain: 'face', width: 1, data: mesh!.group } } : {}),
    },
  });
