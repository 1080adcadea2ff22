import { definePanel, defineStage } from './define';
import { FinishSide } from './FinishSide';

export const finish = defineStage({
  id: 'finish',
  title: 'Finish',
  about: 'Make materials, give them to pieces or to picked faces, and write the colours into a texture.',
  first: ['mode-face', 'texture'],
  modes: ['face', 'piece'],
  focusKind: 'color',
  fresh: true,
  shading: 'materials',
  panels: [definePanel('materials', FinishSide)],
  tools: ['texture'],
  done: (piece) => !!piece?.recipe.some((x) => x.kind === 'color'),
});
