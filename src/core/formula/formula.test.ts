import fc from 'fast-check';
import { emptyMesh } from '../mesh/mesh';
import { box, cubeSphere } from '../make/primitives';
import { dice } from '../testing/mutants';
import {
  compile,
  curveScope,
  elementScope,
  evaluate,
  FormulaError,
  LENGTH,
  ANGLE,
  PLAIN,
  TRUTH,
  valueOf,
  type Scope,
} from '.';
import { FUNCTIONS } from './functions';
import { cells, gradientNoise, random, valueNoise } from './noise';

const dials: Record<string, { type: typeof PLAIN; value: number }> = {
  wall: { type: LENGTH, value: 0.003 },
  storeys: { type: PLAIN, value: 12 },
  tilt: { type: ANGLE, value: 0.5 },
};
const scope = (unit = 0.001): Scope => ({
  unit,
  known: (name) => dials[name] && { type: dials[name].type, help: '', constant: [dials[name].value] },
  names: () => Object.keys(dials),
});
const value = (text: string, wanted = PLAIN, unit = 0.001) => valueOf(text, scope(unit), wanted)[0];
const wrong = (text: string, wanted?: typeof PLAIN): [string, string] => {
  try {
    const code = compile(text, scope(), wanted);
    return ['', code.type.kind];
  } catch (e) {
    expect(e).toBeInstanceOf(FormulaError);
    const { message, at } = e as FormulaError;
    expect(message).toMatch(/^[A-ZÀ-Ž“a-z0-9].*[.?]$/s);
    expect(at[0]).toBeGreaterThanOrEqual(0);
    expect(at[1]).toBeLessThanOrEqual(Math.max(text.length, at[0]));
    return [text.slice(at[0], at[1]), message];
  }
};

describe('arithmetic', () => {
  test.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['2 ^ 3 ^ 2', 512],
    ['-2 ^ 2', -4],
    ['2 * -3', -6],
    ['7 - 2 - 1', 4],
    ['8 / 4 / 2', 1],
    ['50%', 0.5],
    ['1.5e3', 1500],
    ['.5', 0.5],
    ['if storeys > 10 then 1 else 2', 1],
    ['if storeys is 11 then 1 else if storeys is 12 then 5 else 2', 5],
    ['min(3, 1, 2)', 1],
    ['max(3, 1; 2)', 3],
    ['clamp(5, 0, 3)', 3],
    ['mix(10, 20, 0.25)', 12.5],
    ['mod(-1, 3)', 2],
    ['smooth(0, 1, 0.5)', 0.5],
    ['sqrt(16)', 4],
    ['floor(2.7) + ceil(2.1) + round(2.5)', 8],
    ['2 × 3 − 4 ÷ 2', 4],
    ['length(vector(3, 4, 0))', 5],
    ['dot(vector(1, 2, 3), vector(4, 5, 6))', 32],
    ['cross(vector(1, 0, 0), vector(0, 1, 0)).z', 1],
    ['unit(vector(0, 5, 0)).y', 1],
    ['(wall / (1 mm))', 3],
  ])('%s = %f', (text, want) => expect(value(text)).toBeCloseTo(want, 9));

  test('units: what has none is taken in the project’s', () => {
    expect(value('2 * wall + 3 mm', LENGTH)).toBeCloseTo(0.009, 12);
    expect(value('2 * wall + 3', LENGTH)).toBeCloseTo(0.009, 12);
    expect(value('5', LENGTH)).toBeCloseTo(0.005, 12);
    expect(value('5', LENGTH, 1)).toBe(5);
    expect(value('1/3 m', LENGTH)).toBeCloseTo(1 / 3, 6);
    expect(value('sqrt(wall * 12 mm)', LENGTH)).toBeCloseTo(0.006, 9);
    expect(value('90', ANGLE)).toBeCloseTo(Math.PI / 2, 12);
    expect(value('90°', ANGLE)).toBeCloseTo(Math.PI / 2, 12);
    expect(value('tilt + 10 deg', ANGLE)).toBeCloseTo(0.5 + Math.PI / 18, 12);
    expect(value('sin(90°)')).toBeCloseTo(1, 12);
    expect(value('round(wall * 1.4)', LENGTH)).toBeCloseTo(0.004, 12);
    expect(value('if wall > 2 mm and not (storeys < 3) then 1 else 0')).toBe(1);
    expect(value('wall > 2', TRUTH)).toBe(1);
  });
});

describe('what is wrong is said, and where', () => {
  test.each([
    ['wall * wall', LENGTH, 'wall * wall', 'an area'],
    ['wall + wall * wall', LENGTH, 'wall + wall * wall', 'a length and an area'],
    ['wall + tilt', LENGTH, 'wall + tilt', 'a length and an angle'],
    ['wal + 1', PLAIN, 'wal', 'Is “wall” meant?'],
    ['squirt(4)', PLAIN, 'squirt(4)', 'Is “sqrt” meant?'],
    ['sqrt(wall)', PLAIN, 'sqrt(wall)', 'of an area it is a length'],
    ['1 +', PLAIN, '', 'missing at the end'],
    ['(1 + 2', PLAIN, '', 'not closed'],
    ['1 2', PLAIN, '2', 'something is missing'],
    ['sin()', PLAIN, 'sin()', 'takes 1 values'],
    ['sin', PLAIN, 'sin', 'in brackets'],
    ['if 1 then 2', PLAIN, '', 'comes “else”'],
    ['if 1 then 2 else 3', PLAIN, '1', 'a yes or no is wanted'],
    ['vector(1, 2, 3) * vector(1, 2, 3)', PLAIN, 'vector(1, 2, 3) * vector(1, 2, 3)', 'dot(a, b)'],
    ['vector(1, 2, 3).w', PLAIN, 'vector(1, 2, 3).w', 'not a part'],
    ['3 # 4', PLAIN, '#', 'means nothing'],
    ['"walls"', PLAIN, '"walls"', 'a word; a plain number is wanted'],
    ['"walls" + 1', PLAIN, '"walls" + 1', 'have to be alike'],
    ['sin("walls")', PLAIN, '"walls"', 'works on numbers'],
    ['', PLAIN, '', 'nothing written'],
    ['wall ^ storeys2', PLAIN, 'storeys2', 'not known'],
    ['wall ^ 0.3', PLAIN, 'wall ^ 0.3', 'fixed whole number'],
  ])('%s', (text, wanted, at, says) => {
    const [place, message] = wrong(text, wanted);
    expect(place).toBe(at);
    expect(message).toContain(says);
  });

  test('too long, too deep', () => {
    expect(wrong('1+'.repeat(1500))[1]).toContain('at most 2000 letters');
    expect(wrong(`${'('.repeat(500)}1`)[1]).toContain('nested too deep');
    expect(wrong('-'.repeat(500))[1]).toContain('nested too deep');
  });

  test('1,000 random texts: an answer or a sentence with its place, never anything else', () => {
    const bits = [
      '1',
      '2.5',
      'wall',
      'storeys',
      '+',
      '-',
      '*',
      '/',
      '^',
      '(',
      ')',
      ',',
      '.',
      'if',
      'then',
      'else',
      'and',
      'or',
      'not',
      'is',
      '<',
      '=',
      'sin',
      'vector(',
      'noise',
      '"',
      'mm',
      '°',
      'x',
      ' ',
      '#',
      'é',
      '🜁',
      '\n',
    ].concat(Object.keys(FUNCTIONS));
    for (let seed = 1; seed <= 1000; seed++) {
      const roll = dice(seed * 7919);
      const text = Array.from({ length: 1 + roll(14) }, () => bits[roll(bits.length)]).join(roll(2) ? ' ' : '');
      wrong(text);
    }
  });
});

describe('over the elements of a mesh', () => {
  const m = cubeSphere({ radius: 1, cuts: 12, names: 'shares' }, 1);
  const block = box({ width: 1, height: 2, depth: 3, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  const over = (text: string, domain: 'vertex' | 'edge' | 'face' = 'vertex', mesh = m) => {
    const code = compile(text, elementScope(mesh, domain, 1));
    const count = { vertex: mesh.vertexCount, edge: 10, face: mesh.faceCount }[domain];
    return evaluate(code, count).values;
  };

  test('the same as by hand, whatever the block', () => {
    const got = over('position.y + 0.1 * sin(3 * position.x)');
    for (let v = 0; v < m.vertexCount; v++)
      expect(got[v]).toBeCloseTo(m.positions[3 * v + 1] + 0.1 * Math.sin(3 * m.positions[3 * v]), 6);
    expect(over('length(position)').every((x) => Math.abs(x - 1) < 1e-5)).toBe(true);
    expect(over('dot(normal, position)').every((x) => x > 0.98)).toBe(true);
    expect([...over('index')]).toEqual(Array.from({ length: m.vertexCount }, (_, i) => i));
    expect(new Set(over('count'))).toEqual(new Set([m.vertexCount]));
    expect(over('area', 'face').reduce((a, b) => a + b, 0)).toBeGreaterThan(12);
    expect(Math.max(...over('share.y', 'face', block))).toBeCloseTo(1, 5);
    expect(new Set(over('if normal.y > 0.9 then 1 else 0', 'face', block))).toEqual(new Set([0, 1]));
    expect(Math.max(...over('valence', 'vertex', block))).toBe(4);
    expect(Math.max(...over('edge_length', 'edge', block))).toBeCloseTo(1.5, 5);
    expect(new Set(over('part'))).toEqual(new Set([0]));
  });

  test('constant parts are worked out once; a formula of constants is one value', () => {
    expect(compile('2 * wall + sin(3)', scope()).constant).toBe(true);
    expect(() => valueOf('index', elementScope(m, 'vertex', 1))).toThrow('differs from element to element');
    const { values, bad } = evaluate(compile('1 / (index - 3)', elementScope(m, 'vertex', 1)), 10);
    expect(bad).toBe(1);
    expect(values[3]).toBe(0);
    expect(evaluate(compile('log(0 - 1)', scope()), 2)).toEqual({ values: new Float32Array(2), bad: 2 });
  });

  test('what an element does not have is not known there', () => {
    expect(() => over('area')).toThrow('“area” is not known here.');
    expect(() => over('valense')).toThrow('Is “valence” meant?');
    expect(over('if set("lid") then 1 else 0', 'face').every((x) => x === 0)).toBe(true);
  });
});

describe('noise', () => {
  test('nothing at whole numbers, smooth between, within its range, by its dice', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -99, max: 99 }),
        fc.double({ min: -50, max: 50, noNaN: true }),
        fc.integer({ min: 0, max: 9 }),
        (i, x, seed) => {
          expect(gradientNoise(i, i + 1, i - 2, seed)).toBeCloseTo(0, 12);
          for (const noise of [gradientNoise, valueNoise]) {
            const a = noise(x, 2 * x, -x, seed);
            expect(Math.abs(a)).toBeLessThanOrEqual(1.05);
            expect(Math.abs(noise(x + 1e-5, 2 * x, -x, seed) - a)).toBeLessThan(1e-3);
          }
          const c = cells(x, x / 2, 3, seed);
          expect(c).toBeGreaterThanOrEqual(0);
          expect(c).toBeLessThan(1.8);
        },
      ),
    );
    const all = Array.from({ length: 4000 }, (_, i) => random(i, 3));
    expect(all.reduce((a, b) => a + b, 0) / 4000).toBeCloseTo(0.5, 1);
    expect(new Set(all).size).toBeGreaterThan(3990);
    expect(random(7, 1)).not.toBe(random(7, 2));
  });
});

test('words that every object of the language has are no names, functions, units or parts', () => {
  const scopes = [elementScope(emptyMesh(), 'vertex', 1), elementScope(emptyMesh(), 'corner', 1), curveScope([], 1)];
  for (const scope of scopes)
    for (const word of ['constructor', '__proto__', 'toString', 'hasOwnProperty'])
      for (const text of [word, `${word} + 1`, `${word}(1)`, `2 ${word}`, `1/3 ${word}`, `position.${word}`])
        expect(() => compile(text, scope)).toThrow(FormulaError);
});
