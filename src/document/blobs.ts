/** Which stored files a document needs: those that recipes begin with, and its pictures. */
import type { Part } from '../core/recipe/values';
import type { ProjectDocument, Step } from './types';

export function blobsOf(doc: Pick<ProjectDocument, 'pieces' | 'images'>): Set<string> {
  const out = new Set<string>();
  const take = (steps: readonly Step[]) => {
    for (const s of steps) {
      if (typeof s.values.blob === 'string' && s.values.blob !== '') out.add(s.values.blob);
      if (s.kind === 'merged') for (const p of (s.values.parts ?? []) as Part[]) take(p.recipe as Step[]);
    }
  };
  for (const p of doc.pieces) take(p.recipe);
  for (const i of doc.images) out.add(i.blob);
  return out;
}
