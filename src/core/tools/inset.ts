import { extrude, turnedOver } from '../edit/extrude';
import { length, toggle } from '../recipe/values';
import { defineTool } from './define';

/** Says where an inset was wider than there is room. */
export function tellTurnedOver(over: number, of: number, tell?: (text: string) => void): void {
  if (over === 0) return;
  const which = of === 1 ? 'The inset goes past itself' : `The inset of ${over} of ${of} faces goes past itself`;
  tell?.(`${which}: there is not so much room inside. A smaller distance keeps the outline apart.`);
}

export const inset = defineTool({
  id: 'inset',
  title: 'Inset',
  sentence: ' {pick} by {inset}, {each}',
  help: 'Makes a smaller face inside, with a frame around it',
  words: 'border frame offset inwards margin',
  key: 'Shift X',
  family: 'grow',
  icon: 'M4 4h16v16H4z M9 9h6v6H9z M4 4l5 5 M20 4l-5 5 M4 20l5-5 M20 20l-5-5',
  picks: ['face'],
  values: { inset: length('by', 0.005), each: toggle('each alone', false, 'each alone', 'as one') },
  run: (mesh, { indices }, v, id, tell) => {
    const out = extrude(mesh, indices, { ...v, by: 0, along: 'normals' }, id);
    tellTurnedOver(turnedOver(mesh, out, indices), indices.length, tell);
    return out;
  },
});
