import type { ProjectImage } from '../types';

/** A picture's entry for tests: as wide and high as said; its blob is named by letters, and not there. */
export const imageOf = (id: string, width: number, height: number): ProjectImage => ({
  id,
  name: 'a.png',
  blob: 'a'.repeat(64),
  mime: 'image/png',
  width,
  height,
  bits: 8,
  use: 'picture',
});
