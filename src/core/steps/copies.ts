/** Steps that put things in many places, without making them many times. */
import { affordable, copiesAt, type Copies, type Sites } from '../copies/copies';
import {
  ALIGNED,
  curveSites,
  elementSites,
  fashioned,
  gridSites,
  roundSites,
  rowSites,
  someSites,
} from '../copies/sites';
import { stacked, type Tier } from '../copies/stack';
import { ANGLE, PLAIN, TRUTH, type Code, type Domain } from '../formula';
import { whole, type Geometry } from '../geometry';
import { key2, keyOf } from '../math/hash';
import { countOf } from '../mesh/picks';
import type { Mesh } from '../mesh/mesh';
import { pointsFrom } from '../mesh/points';
import { defineStep, everything, otherPiece, type StepContext } from '../recipe/define';
import {
  angle,
  choice,
  count,
  expression,
  length,
  pieceName,
  pieceNames,
  toggle,
  type Expression,
} from '../recipe/values';
import { codeFor, columnFor } from './columns';

const AXES = [
  ['y', 'Y'],
  ['x', 'X'],
  ['z', 'Z'],
] as const;

const times = (value: number) => count('how many', value, { min: 1, max: 1_000_000_000, noun: ['time', 'times'] });

/** What all ways of copying have: what each copy looks like, by formulas of its number and place. */
const LOOK = {
  turn: expression('turned', '0'),
  about: choice('about its', 'y', AXES),
  size: expression('sized', '1'),
  only: expression('only where', 'true'),
  others: pieceNames('other pieces among them', 'nothing else'),
  which: expression('which', 'index'),
};
const LOOKING = ', turned {turn}, sized {size}';

interface Look {
  turn: Expression;
  about: 'x' | 'y' | 'z';
  size: Expression;
  only: Expression;
  others: readonly string[];
  which: Expression;
}

/** Points for formulas to be asked of, where there is nothing else to ask. */
function pointsAt(sites: Sites): Mesh {
  const positions = new Float32Array(3 * sites.place.length);
  sites.place.forEach((m, i) => positions.set([m[3], m[7], m[11]], 3 * i));
  return pointsFrom(positions, Float64Array.from(sites.key));
}

/**
 * Copies of what comes before, and of other pieces, at places that are chosen and fashioned by formulas over a mesh.
 */
function copied(all: Geometry, sites: Sites, mesh: Mesh, domain: Domain, v: Look, c: StepContext): Geometry {
  const column = (code: Code) => columnFor(mesh, domain, code, c);
  const plain = (x: Expression, text: string) => x.text.trim() === text;
  const n = sites.place.length;
  const kept = plain(v.only, 'true') ? undefined : column(codeFor(mesh, domain, v.only, TRUTH));
  const turn = plain(v.turn, '0') ? new Float32Array(n) : column(codeFor(mesh, domain, v.turn, ANGLE));
  const sizing = codeFor(mesh, domain, v.size);
  const wide = sizing.type.kind === 'vector' ? 3 : 1;
  const sizes = column(wide === 3 ? sizing : codeFor(mesh, domain, v.size, PLAIN));
  const things: Geometry[] = [all, ...v.others.map((id) => c.other(id).geometry)];
  const numbers = things.length > 1 ? column(codeFor(mesh, domain, v.which, PLAIN)) : undefined;
  const of = (x: number) => ((Math.floor(x) % things.length) + things.length) % things.length;
  const shaped = fashioned(sites, v.about, turn, sizes, wide);
  const chosen = kept ? someSites(shaped, kept) : shaped;
  const which = numbers && Uint32Array.from(kept ? numbers.filter((_, i) => kept[i] !== 0) : numbers, of);
  const copies: Copies = copiesAt(things, chosen, which);
  c.tell('copies', copies.of.length);
  return { copies };
}

const named = (v: Pick<Look, 'others'>) => v.others;

export const row = defineStep({
  kind: 'row',
  title: 'Copy in a row',
  sentence: ` {times}, {x}, {y}, {z} apart${LOOKING}`,
  inputs: { all: everything() },
  help: 'Copies of all so far in a straight row, the first where it is',
  words: 'array repeat duplicate instances linear pattern line series',
  names: named,
  values: {
    times: times(5),
    x: length('apart along X', 0.1),
    y: length('apart along Y', 0),
    z: length('apart along Z', 0),
    ...LOOK,
  },
  run: ({ all }, v, c) => {
    const sites = rowSites(v.times, [v.x, v.y, v.z], c.id);
    return copied(all, sites, pointsAt(sites), 'vertex', v, c);
  },
});

export const grid = defineStep({
  kind: 'grid',
  title: 'Copy in a grid',
  sentence: ` of {nx} by {ny} by {nz}, {x}, {y}, {z} apart, {from}${LOOKING}`,
  inputs: { all: everything() },
  help: 'Copies of all so far in rows, columns and layers',
  words: 'array repeat duplicate instances pattern rows columns layers',
  names: named,
  values: {
    nx: count('along X', 4, { min: 1, max: 1_000_000 }),
    ny: count('along Y', 1, { min: 1, max: 1_000_000 }),
    nz: count('along Z', 4, { min: 1, max: 1_000_000 }),
    x: length('apart along X', 0.1),
    y: length('apart along Y', 0.1),
    z: length('apart along Z', 0.1),
    from: choice('from', 'first', [
      ['first', 'from where it is'],
      ['middle', 'round where it is'],
    ]),
    ...LOOK,
  },
  run: ({ all }, v, c) => {
    const sites = gridSites([v.nx, v.ny, v.nz], [v.x, v.y, v.z], c.id, v.from === 'middle');
    return copied(all, sites, pointsAt(sites), 'vertex', v, c);
  },
});

export const round = defineStep({
  kind: 'round',
  title: 'Copy round',
  sentence: ` {axis} at {x}, {y}, {z}, {times} over {over}, {turned}${LOOKING}`,
  inputs: { all: everything() },
  help: 'Copies of all so far round an axis, shared out over a turn or a part of one',
  words: 'array polar circular radial repeat duplicate instances pattern ring',
  names: named,
  values: {
    axis: choice('axis', 'y', AXES),
    x: length('centre x', 0),
    y: length('centre y', 0),
    z: length('centre z', 0),
    times: times(8),
    over: angle('over', 360, { min: -100, max: 100 }),
    turned: toggle('turned along', true, 'turning along', 'all looking the same way'),
    ...LOOK,
  },
  run: ({ all }, v, c) => {
    const sites = roundSites(v.times, v.axis, [v.x, v.y, v.z], v.over, c.id, v.turned);
    return copied(all, sites, pointsAt(sites), 'vertex', v, c);
  },
});

export const alongCurve = defineStep({
  kind: 'along-curve',
  title: 'Copy along',
  sentence: ` the curve of {other}, {times}, or one each {apart}, {aligned}${LOOKING}`,
  inputs: { all: everything(), other: otherPiece('the curve') },
  help: 'Copies of all so far along a curve of another piece, evenly or each so far from the last',
  words: 'array path spline repeat duplicate instances chain fence',
  names: named,
  values: {
    times: times(8),
    apart: length('apart', 0, { min: 0, zero: 'so far as they come' }),
    aligned: choice('how', 'upright', [
      ['upright', 'upright, looking along it'],
      ['turning', 'turning with it'],
      ['free', 'as they are'],
    ]),
    ...LOOK,
  },
  run: ({ all, other }, v, c) => {
    const { curves } = whole(other.geometry);
    const sites = curveSites(curves, { count: v.times, apart: v.apart, aligned: v.aligned }, c.id);
    return copied(all, sites, pointsAt(sites), 'vertex', v, c);
  },
});

export const onElements = defineStep({
  kind: 'on-elements',
  title: 'Copy onto',
  sentence: ` the {domain} of {other}, {aligned}${LOOKING}`,
  inputs: { all: everything(), other: otherPiece('the other piece') },
  help: 'A copy of all so far on each vertex, edge or face of another piece; formulas may go by its attributes',
  words: 'array scatter instances instance points distribute place on surface repeat',
  names: named,
  values: {
    domain: choice('on', 'vertex', [
      ['vertex', 'vertices'],
      ['face', 'faces'],
      ['edge', 'edges'],
    ]),
    aligned: choice('how', 'normal', [
      [ALIGNED[0], 'up along its normal'],
      [ALIGNED[1], 'up along its normal, lying along its first side'],
      [ALIGNED[2], 'as they are'],
    ]),
    ...LOOK,
  },
  run: ({ all, other }, v, c) => {
    const { mesh } = whole(other.geometry);
    if (!mesh || mesh.vertexCount === 0) throw new Error(`“${other.name}” has nothing to stand on.`);
    const n = countOf(mesh, v.domain);
    affordable(n, 1);
    const every = Uint32Array.from({ length: n }, (_, i) => i);
    const sites = elementSites(mesh, v.domain, every, v.aligned, c.id);
    return copied(all, sites, mesh, v.domain, v, c);
  },
});

const some = (label: string) => count(label, 1, { min: 0, max: 1_000_000 });

export const stack = defineStep({
  kind: 'stack',
  title: 'Stack',
  sentence: ' {low} of {foot}, {times} of {middle}, {high} of {top}, along {axis}, {gap} between, each turned {turn}',
  inputs: {},
  help:
    'Pieces on top of each other by how far they truly reach, as many of each as you like: what is above moves ' +
    'with what is below',
  words: 'tower storeys floors pile on top build up repeat',
  names: (v) => [v.foot, v.middle, v.top].filter((id) => id !== ''),
  values: {
    foot: pieceName('the lowest', 'nothing'),
    low: some('how many lowest'),
    middle: pieceName('the middle', 'nothing'),
    times: some('how many between'),
    top: pieceName('the highest', 'nothing'),
    high: some('how many highest'),
    axis: choice('along', 'y', AXES),
    gap: length('between', 0),
    turn: angle('each turned', 0),
  },
  run: (_, v, c) => {
    const tiers = (
      [
        [v.foot, v.low, 'foot'],
        [v.middle, v.times, 'middle'],
        [v.top, v.high, 'top'],
      ] as const
    ).flatMap(([id, many, name]): Tier[] => {
      if (id === '') return [];
      const { geometry, pivot = [0, 0, 0] } = c.other(id);
      return [{ geometry, count: many, pivot, key: key2(c.id, keyOf(name)) }];
    });
    if (tiers.length === 0) throw new Error('Choose what is to be stacked.');
    const { copies, high } = stacked(tiers, 'xyz'.indexOf(v.axis) as 0 | 1 | 2, v.gap, v.turn);
    c.tell('copies', copies.of.length);
    c.tell('high', high);
    return { copies };
  },
});

export const flat = defineStep({
  kind: 'flat',
  title: 'Make copies one mesh',
  sentence: '',
  inputs: { all: everything() },
  help: 'Copies become faces of one mesh, each with a number of its own in the attribute “copy”',
  words: 'realize flatten bake instances merge apply',
  values: {},
  run: ({ all }) => whole(all),
});
