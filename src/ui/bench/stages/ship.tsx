import { definePanel, defineStage } from './define';
import { ShipSide } from './ShipSide';

export const ship = defineStage({
  id: 'ship',
  title: 'Ship',
  about: 'Choose what leaves and in which format, read what there is to know before it goes, and download it.',
  first: ['see-all'],
  modes: [],
  focusKind: 'shape',
  panels: [definePanel('ship', ShipSide)],
  tools: [],
});
