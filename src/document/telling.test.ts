import { addDial } from './dials';
import { addPiece, addStep, newProject } from './changes';
import { stepsAsText, stepsFromText } from './recipetext';
import { setByText, sweepOf } from './set';
import { tellProject } from './telling';
import type { ProjectDocument } from './types';

function project(): ProjectDocument {
  const doc = newProject('Harbour', 'render', 'm');
  addDial(doc, { id: 'd', name: 'storeys', kind: 'count', value: 5, min: 1, max: 60, note: 'Of the tower' });
  addDial(doc, { id: 'w', name: 'wall', kind: 'length', value: 0.2, min: 0.01, max: 1 });
  addPiece(doc, 'p', 'storey', null);
  addStep(doc, 'p', 'box', 'b', { width: 2, height: { formula: '10 * wall' }, depth: 2, cutX: 3 });
  addStep(doc, 'p', 'all-bend', 's', { angle: Math.PI / 4 });
  addStep(doc, 'p', 'row', 'r', {
    times: { formula: 'storeys' },
    x: 0,
    y: 3,
    about: 'z',
    only: { text: 'index > 1', unit: 'm' },
  });
  doc.pieces[0].recipe[1].on = false;
  return doc;
}

test('a project in sentences: dials, steps, what the sentence leaves out, and what is off', () => {
  expect(tellProject(project())).toBe(`Harbour, in m, for render

Dials
  storeys = 5, 1 to 60: Of the tower
  wall = 0.2 m, 0.01 m to 1 m

storey, at 0 m, 0 m, 0 m
  1. Start with a box 2 m × 10 * wall × 2 m, cut 3 × 1 × 1.
  2. off: Bend it all by 45° along Y towards X, taking along nothing around.
  3. Copy in a row storeys, 0 m, 3 m, 0 m apart, turned 0, sized 1. (about its: Z; only where: index > 1)
`);
  expect(tellProject(project(), (p) => p.name === 'nobody')).toBe('\n');
});

describe('steps as text', () => {
  const { recipe } = project().pieces[0];
  const text = stepsAsText(recipe, project());
  test('read by people above, and come back whole, through mail that quotes and wraps', () => {
    expect(text).toMatch(/^1\. Start with a box 2 m/);
    expect(stepsFromText(text)).toEqual(recipe);
    const mailed = `Look at this:\n\n${text}\nRegards`.replace(/^/gm, '> ').replace(/\n/g, ' \r\n');
    expect(stepsFromText(mailed.replace(/> Regards/, ''))).toEqual(recipe);
  });
  test('a line that got lost is noticed; other text is none of ours; what is no step is refused', () => {
    const lines = text.split('\n');
    expect(() => stepsFromText(lines.filter((_, i) => i !== lines.length - 3).join('\n'))).toThrow(
      'did not come whole',
    );
    expect(stepsFromText('a shopping list')).toBeUndefined();
    const bad = stepsAsText([{ ...recipe[0], values: { ...recipe[0].values, width: 'wide' } }], project());
    expect(() => stepsFromText(bad)).toThrow(/Start with a box/);
  });
  test('a step from a later version goes along as it is', () => {
    const later = [{ id: 'x', kind: 'from-the-future', on: true, values: { a: [1, 2] } }];
    expect(stepsFromText(stepsAsText(later, project()))).toEqual(later);
  });
});

describe('dials by text', () => {
  test('with units, in formulas of other dials, counts rounded', () => {
    const doc = project();
    expect(setByText(doc, 'wall=250 mm').value).toBeCloseTo(0.25, 12);
    expect(setByText(doc, 'storeys = 2 * 6').value).toBe(12);
    expect(setByText(doc, 'wall=wall / 2').value).toBeCloseTo(0.125, 12);
  });
  test.each([
    ['storeys', 'sets nothing'],
    ['storey=3', 'there are storeys, wall'],
    ['storeys=99', 'storeys goes from 1 to 60, so 99 cannot be.'],
    ['storeys=3 mm', 'cannot be storeys'],
    ['wall=1 kg', 'cannot be wall'],
  ])('%s is refused in one sentence', (text, why) => {
    expect(() => setByText(project(), text)).toThrow(why);
  });
  test('ranges have both their ends; counts are whole and once each', () => {
    expect(sweepOf(project(), 'wall=0.1..0.3/3').values).toEqual([0.1, expect.closeTo(0.2, 12), 0.3]);
    expect(sweepOf(project(), 'storeys=1..3/9').values).toEqual([1, 2, 3]);
    expect(sweepOf(project(), 'storeys=7..9/1').values).toEqual([7]);
    for (const text of ['storeys=1..3', 'storeys', 'storeys=1/3..4', 'storeys=1..3/0', 'storeys=1..3/x'])
      expect(() => sweepOf(project(), text)).toThrow();
  });
});
