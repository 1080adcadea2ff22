import { whole } from '../../core/geometry';
import { attributesOf, type AttributeFacts } from '../../core/mesh/statistics';
import { defineCall } from './define';

/** What there is to know of the attributes of what a piece shows. */
export const attributes = defineCall((host, { piece }: { piece: string }): AttributeFacts[] => {
  const shown = host.results.get(piece);
  const { mesh } = shown ? whole(shown) : {};
  return mesh ? attributesOf(mesh) : [];
});
