import { useBench } from '../store';
import { BlueprintSection } from './BlueprintSection';
import { definePanel, defineStage } from './define';
import { Arrivals, Pictures, ProjectSection } from './GatherPanels';
import { MeasureSection } from './MeasureSection';
import { PlaceSection } from './PlaceSection';

function Blueprint() {
  const piece = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece));
  return piece?.kind === 'blueprint' ? <BlueprintSection piece={piece} /> : null;
}

function Place() {
  const any = useBench((s) => s.piece !== null);
  return any ? <PlaceSection /> : null;
}

export const gather = defineStage({
  id: 'gather',
  title: 'Gather',
  about:
    'Bring in models, drawings and pictures, say what is being made and in which units, and put pieces where ' +
    'they belong.',
  first: ['start', 'library', 'tape'],
  modes: ['piece'],
  focusKind: 'shape',
  handles: true,
  panels: [
    definePanel('arrivals', Arrivals),
    definePanel('blueprint', Blueprint),
    definePanel('place', Place),
    definePanel('project', ProjectSection),
    definePanel('pictures', Pictures),
    definePanel('measure', MeasureSection),
  ],
  tools: ['copy', 'linked', 'group-picked', 'tape', 'only', 'delete', 'see-pick'],
  done: () => true,
});
