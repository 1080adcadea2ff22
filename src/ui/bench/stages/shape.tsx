import { stripTools } from '../commands/tools';
import { AttributesSection } from './AttributesSection';
import { ChecksSection } from './ChecksSection';
import { definePanel, defineStage } from './define';
import { DialsSection } from './DialsSection';
import { FactsSection } from './FactsSection';
import { MeasureSection } from './MeasureSection';
import { PlaceSection } from './PlaceSection';
import { SetsSection } from './SetsSection';
import { SnapSection } from './SnapSection';

export const shape = defineStage({
  id: 'shape',
  title: 'Shape',
  about:
    'Pick faces, edges or vertices and move, extrude and cut them; every edit stays in the recipe and can be ' +
    'changed later.',
  first: ['mode-face', 'extrude', 'move', 'step'],
  modes: ['face', 'edge', 'vertex', 'piece'],
  focusKind: 'shape',
  handles: true,
  panels: [
    definePanel('place', PlaceSection),
    definePanel('facts', FactsSection),
    definePanel('checks', ChecksSection),
    definePanel('dials', DialsSection),
    definePanel('attributes', AttributesSection),
    definePanel('sets', SetsSection),
    definePanel('snap', SnapSection),
    definePanel('measure', MeasureSection),
  ],
  tools: [...stripTools(), 'copy', 'linked', 'group-picked', 'tape', 'delete'],
  done: () => true,
});
