/** The whole of a pick bent, twisted, tapered and stretched along an axis. */
import { bent, reshape, stretched, stretchOf, tapered, twisted } from '../edit/reshape';
import { verticesOf } from '../mesh/picks';
import { angle, choice, number, toggle } from '../recipe/values';
import { ANY_KIND, AXES, defineTool, soft } from './define';

const axis = choice('along', 'y', AXES);

export const bend = defineTool({
  id: 'bend',
  title: 'Bend',
  sentence: ' {pick} by {angle} along {axis} towards {towards}, taking along {soft} around',
  help: 'Lays what is straight along an arc',
  words: 'curve arc bow deform hook',
  family: 'form',
  icon: 'M5 20V12a7 7 0 0 1 14 0 M9 20v-8a3 3 0 0 1 6 0 M5 20h4 M15 12h4',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: { angle: angle('by', 45), axis, towards: choice('towards', 'x', AXES), ...soft },
  run: (mesh, p, v) => {
    if (v.axis === v.towards) throw new Error('Bend towards another axis than the one it runs along.');
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, bent(stretchOf(mesh, vertices, v.axis), v.angle, v.towards), v);
  },
});

export const twist = defineTool({
  id: 'twist',
  title: 'Twist',
  sentence: ' {pick} by {angle} along {axis}, taking along {soft} around',
  help: 'Turns one end against the other',
  words: 'screw wring spiral turn deform',
  family: 'form',
  icon: 'M6 3c0 6 12 6 12 12 M18 3c0 6-12 6-12 12 M6 15v6 M18 15v6 M6 21h12 M6 3h12',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: { angle: angle('by', 45), axis, ...soft },
  run: (mesh, p, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, twisted(stretchOf(mesh, vertices, v.axis), v.angle), v);
  },
});

export const taper = defineTool({
  id: 'taper',
  title: 'Taper',
  sentence: ' {pick} to {end} at the end, along {axis}, taking along {soft} around',
  help: 'Makes one end wider or narrower than the other',
  words: 'narrow wedge cone thin deform',
  family: 'form',
  icon: 'M9 4h6l4 16H5z M12 4v16',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: { end: number('to', 0.5, { min: -10, max: 100 }), axis, ...soft },
  run: (mesh, p, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, tapered(stretchOf(mesh, vertices, v.axis), v.end), v);
  },
});

export const stretch = defineTool({
  id: 'stretch',
  title: 'Stretch',
  sentence: ' {pick} {by} times along {axis}, {thin}, taking along {soft} around',
  help: 'Draws a thing longer, thinner in its middle if wanted',
  words: 'squash lengthen pull deform',
  family: 'form',
  icon: 'M4 12h16 M7 9l-3 3 3 3 M17 9l3 3-3 3 M10 7v10 M14 7v10',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: {
    by: number('by', 1.5, { min: 0.01, max: 100 }),
    axis,
    thin: toggle('thinner', true, 'thinner in the middle', 'as wide as before'),
    ...soft,
  },
  run: (mesh, p, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, stretched(stretchOf(mesh, vertices, v.axis), v.by, v.thin), v);
  },
});
