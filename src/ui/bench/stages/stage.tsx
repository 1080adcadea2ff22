import { definePanel, defineStage } from './define';
import { Section } from './Fields';

/** A stage that is still to come says so, and what it will be for. */
const ToCome = () => (
  <Section title="What Stage is for">
    <p className="quiet">
      Cameras with real lenses, sun and lamps, haze, motion along routes, and a rendered picture at the end. None of it
      is here yet; the work done in the other stages will be ready for it.
    </p>
  </Section>
);

export const stage = defineStage({
  id: 'stage',
  title: 'Stage',
  about: 'Cameras, light, air and motion. This stage is still to come.',
  first: ['see-all'],
  modes: [],
  focusKind: 'shape',
  panels: [definePanel('to-come', ToCome)],
  tools: [],
});
