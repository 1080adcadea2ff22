/** Brushes: strokes drawn over the surface move its vertices. */
import { stroke, type BrushKind } from '../edit/brush';
import { choice, dabs, length, number } from '../recipe/values';
import { defineTool, FALLOFF } from './define';

const KINDS = [
  ['grab', 'grab'],
  ['smooth', 'smooth'],
  ['push', 'push'],
  ['flatten', 'flatten'],
  ['pinch', 'pinch'],
] as const;

export const brush = defineTool({
  id: 'brush',
  title: 'Brush',
  sentence: ': {what} along {dabs}, {radius} round, by {strength}, fading {falloff}',
  help: 'Strokes over the surface that grab, smooth, push, flatten or pinch it',
  words: 'sculpt grab smooth push inflate flatten pinch stroke',
  key: 'G',
  family: 'form',
  icon: 'M15 4l5 5-7 7-5-5z M8 11l-3 3c-1 1-1 4-2 6 2-1 5-1 6-2l3-3',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'strokes',
  rare: true,
  values: {
    what: choice('brush', 'grab', KINDS),
    dabs: dabs('strokes'),
    radius: length('round', 0.05, { min: 1e-6, max: 1e5 }),
    strength: number('by', 1, { min: -4, max: 4 }),
    falloff: choice('fading', 'smooth', FALLOFF),
  },
  main: 'radius',
  run: (mesh, _, v) => stroke(mesh, v.dabs, { ...v, kind: v.what as BrushKind }),
});
