import { components, type Mesh } from '../../core/mesh';
import type { PartFound } from '../protocol';
import { defineCall } from './define';

type PartsBy = 'part' | 'material' | 'set';

/** What a piece would be split into. */
export const parts = defineCall(({ results }, { piece, by }: { piece: string; by: PartsBy }): PartFound[] => {
  const mesh = results.get(piece)?.mesh;
  return mesh ? partsFound(mesh, by) : [];
});

function partsFound(mesh: Mesh, by: PartsBy): PartFound[] {
  if (by === 'part') {
    const { of, count } = components(mesh);
    const first = new Map<number, number>();
    for (let f = 0; f < mesh.faceCount; f++) {
      const c = of[mesh.cornerVertex[mesh.faceStart[f]]];
      if (!first.has(c)) first.set(c, f);
    }
    return count < 2 ? [] : [...first.values()].map((f, i) => ({ name: `part ${i + 1}`, keys: [mesh.faceKey[f]] }));
  }
  const names = by === 'material' ? mesh.slots : mesh.groups;
  const data = mesh.attributes[by === 'material' ? 'material' : 'group']?.data;
  const used = new Set<number>();
  for (let f = 0; f < mesh.faceCount; f++) used.add(data ? data[f] : -1);
  return used.size < 2
    ? []
    : [...used].sort((a, b) => a - b).map((i) => ({ name: names[i] ?? 'the rest', set: names[i] ?? '', keys: [] }));
}
