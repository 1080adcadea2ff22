import { Sheet } from '../sheet/Sheet';
import { defineStage } from './define';

export const unwrap = defineStage({
  id: 'unwrap',
  title: 'Unwrap',
  about: 'Cut seams where they hide, lay the surface flat on the sheet, and move islands by hand where you like them.',
  first: ['mode-edge', 'cut', 'unfold'],
  modes: ['edge', 'face', 'vertex'],
  focusKind: 'unwrap',
  shading: 'checker',
  Beside: Sheet,
  panels: [],
  tools: ['cut', 'hold', 'letbe', 'trace-seam', 'suggest-seams', 'unfold'],
  done: (piece) => !!piece?.recipe.some((x) => x.kind === 'unwrap'),
});
