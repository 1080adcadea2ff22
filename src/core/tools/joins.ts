/** What joins and takes away, and which way faces look. */
import { collapse as collapseParts } from '../edit/collapse';
import { dissolve as dissolveElements } from '../edit/dissolve';
import { spinEdges } from '../edit/divide';
import { openAlong } from '../edit/open';
import { flip as flipFaces, pointOutward } from '../edit/orient';
import { toQuads } from '../edit/triangles';
import { mirrorMesh } from '../edit/mirror';
import { angle, choice, length, toggle } from '../recipe/values';
import { ANY_KIND, AXES, defineTool } from './define';

export const dissolve = defineTool({
  id: 'dissolve',
  title: 'Dissolve',
  sentence: ' {pick}; vertices left between two edges {straight}',
  help: 'Takes edges, vertices or faces away and leaves one face where they were',
  words: 'remove merge faces clean simplify erase without hole',
  key: 'Shift Delete',
  family: 'join',
  icon: 'M4 5h16v14H4z M12 8v1 M12 11v2 M12 15v1',
  picks: ['edge', 'face', 'vertex'],
  rare: true,
  begins: 'at once',
  clears: true,
  values: { straight: toggle('vertices between two edges', true, 'go too', 'stay') },
  run: (mesh, { kind, indices }, v, id, tell) => dissolveElements(mesh, kind, indices, v.straight, id, tell),
});

export const collapse = defineTool({
  id: 'collapse',
  title: 'Collapse',
  sentence: ' {pick} into {into}',
  help: 'Makes one vertex of each part of the pick, in its middle',
  words: 'merge centre weld point contract',
  family: 'join',
  icon: 'M4 4l5 5 M20 4l-5 5 M4 20l5-5 M20 20l-5-5 M12 10.500a1.500 1.500 0 1 0 .1 0',
  picks: ANY_KIND,
  rare: true,
  begins: 'at once',
  clears: true,
  values: {
    into: choice('into', 'each', [
      ['each', 'one for each part'],
      ['one', 'one for all'],
    ]),
  },
  run: (mesh, { kind, indices }, v) => collapseParts(mesh, kind, indices, v.into),
});

export const quads = defineTool({
  id: 'quads',
  title: 'To quads',
  sentence: ' {pick}, where they bend less than {bend}',
  help: 'Joins triangles in pairs, the best first',
  words: 'triangles tris merge untriangulate retopology',
  family: 'join',
  icon: 'M4 4h16v16H4z M4 12h16 M12 4v16',
  picks: ['face'],
  empty: 'all',
  begins: 'at once',
  rare: true,
  values: { bend: angle('bend', 30, { min: 0, max: Math.PI }) },
  run: (mesh, { indices }, v, id) => toQuads(mesh, indices, v.bend, id),
});

export const spin = defineTool({
  id: 'spin-edges',
  title: 'Spin edges',
  sentence: ' {pick} {way}',
  help: 'Turns an edge on to the next corners of the two faces beside it',
  words: 'flip rotate diagonal swap flow',
  family: 'join',
  icon: 'M4 12l8-8 8 8-8 8z M4 12h16 M15 7a5 5 0 0 1 2 3',
  picks: ['edge'],
  begins: 'at once',
  rare: true,
  values: { way: toggle('way', false, 'backwards', 'forwards') },
  run: (mesh, { indices }, v, id, tell) => spinEdges(mesh, indices, v.way, id, tell),
});

export const open = defineTool({
  id: 'open',
  title: 'Open',
  sentence: ' along {pick}',
  help: 'Lets the faces on both sides of edges go of each other',
  words: 'rip split tear separate unweld cut loose',
  family: 'join',
  icon: 'M4 5h7l-1 14H4z M20 5h-6l1 14h5z',
  picks: ['edge', 'vertex'],
  begins: 'at once',
  rare: true,
  values: {},
  run: (mesh, { kind, indices }, _, id) => openAlong(mesh, kind === 'edge' ? 'edge' : 'vertex', indices, id),
});

export const flip = defineTool({
  id: 'flip',
  title: 'Flip',
  sentence: ' {pick}',
  help: 'Turns faces to look the other way',
  words: 'invert reverse normals inside out turn over',
  key: 'N',
  family: 'join',
  icon: 'M4 13h16 M12 10V4 M9.500 6.500L12 4l2.500 2.500 M12 16v4 M9.500 17.500L12 20l2.500-2.500',
  picks: ['face'],
  empty: 'all',
  begins: 'at once',
  rare: true,
  values: {},
  run: (mesh, { indices }) => flipFaces(mesh, indices),
});

export const outward = defineTool({
  id: 'outward',
  title: 'Point outward',
  sentence: ' {pick}',
  help: 'Makes faces agree with their neighbours and look out of the body they enclose',
  words: 'normals recalculate unify repair inside out consistent',
  family: 'join',
  icon: 'M8 8h8v8H8z M12 8V3 M12 16v5 M8 12H3 M16 12h5 M10.500 4.500L12 3l1.500 1.500 M10.500 19.500L12 21l1.500-1.500',
  picks: ['face'],
  empty: 'all',
  begins: 'at once',
  rare: true,
  values: {},
  run: (mesh, { indices }, _, __, tell) => pointOutward(mesh, indices, tell),
});

export const symmetrise = defineTool({
  id: 'symmetrise',
  title: 'Make both sides alike',
  sentence: ' across {axis}, from the {keep} side, closing within {weld}',
  help: 'Takes one half away and lays the mirror image of the other in its place',
  words: 'symmetry mirror symmetrize copy half',
  family: 'join',
  icon: 'M12 3v18 M9 7L4 17h5z M15 7l5 10h-5z M9 4l-1 1 M15 4l1 1',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'at once',
  rare: true,
  values: {
    axis: choice('across', 'x', AXES),
    keep: choice('from the', 'positive', [
      ['positive', 'positive'],
      ['negative', 'negative'],
    ]),
    weld: length('closing within', 0.0001, { min: 0, max: 100 }),
  },
  run: (mesh, _, v, id) => mirrorMesh(mesh, { axis: v.axis, keep: v.keep, weld: v.weld, clip: true }, id),
});
