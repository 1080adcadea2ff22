/**
 * Tools that take all there is, as steps of their own: so their values can be dials and formulas, and nothing has to be
 * picked.
 */
import { complete, type ValueDefs } from '../recipe/values';
import { defineStep, input, type StepDef } from '../recipe/define';
import { toolDef, type ToolDef } from '../tools';

/** Tools that mean something for a whole piece, and what they say of it then. */
const AS_STEPS: Readonly<Record<string, string>> = {
  extrude: 'each part',
  inset: 'each part',
  push: 'it all',
  relax: 'it all',
  bend: 'it all',
  twist: 'it all',
  taper: 'it all',
  stretch: 'it all',
  'by-cage': 'it all',
  'lay-along': 'it all',
  thicken: 'each part',
};

function asStep(tool: ToolDef, what: string): StepDef {
  const pieces = Object.keys(tool.values).filter((name) => tool.values[name].kind === 'piece');
  const each = tool.picks[0];
  return defineStep({
    kind: `all-${tool.id}`,
    title: tool.title,
    sentence: tool.sentence.replace('{pick}', what),
    inputs: { mesh: input('mesh') },
    help: `${tool.help}: of all there is`,
    words: `${tool.words} whole all`,
    names: (v) => pieces.map((name) => (v as Record<string, string>)[name]).filter((id) => id !== ''),
    values: tool.values as ValueDefs,
    run: ({ mesh }, v, c) => {
      const kind = tool.picks.includes('face') ? 'face' : each;
      const size = { vertex: mesh.vertexCount, face: mesh.faceCount, edge: 0 }[kind];
      if (size === 0) throw new Error('There is nothing before this step to work on.');
      const indices = Uint32Array.from({ length: size }, (_, i) => i);
      const values = complete(tool.values, v as Record<string, unknown>);
      return tool.run(mesh, { kind, indices }, values, c.id, (text) => c.warn(text), { other: (id) => c.other(id) });
    },
  }) as unknown as StepDef;
}

export const stepsOfTools: readonly StepDef[] = Object.entries(AS_STEPS).flatMap(([id, what]) => {
  const tool = toolDef(id);
  return tool ? [asStep(tool, what)] : [];
});
