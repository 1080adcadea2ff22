/** Steps of pieces made from others: merged, a part that was kept, and section curves. */
import { ellipse as makeEllipse } from '../curve/curves';
import { keepFaces } from '../edit/detach';
import { mergeGeometries, transformGeometry } from '../geometry';
import { keyOf } from '../math/hash';
import { components } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';
import { remedies } from './lost';
import { defineStep, everything, input, otherPiece, TEXTURE_ENDS } from '../recipe/define';
import { choice, length, parts, pick, setOrMaterial } from '../recipe/values';

export const merged = defineStep({
  kind: 'merged',
  title: 'Start with',
  sentence: ' {parts} merged into one',
  inputs: {},
  hidden: true,
  usesMaterials: true,
  help: 'Several pieces as one; each becomes a set, and keeps its own recipe',
  values: { parts: parts('pieces') },
  run: async (_, v, c) => {
    const list = [];
    for (const p of v.parts) {
      const value = transformGeometry(await c.follow(p.recipe), p.place);
      list.push({ value, name: p.name, seed: keyOf(`${c.id}/${p.id}`) });
    }
    const out = mergeGeometries(list);
    if (!out.mesh?.textures && list.some(({ value }) => value.mesh?.textures)) c.warn(TEXTURE_ENDS);
    return out;
  },
});

export const join = defineStep({
  kind: 'join',
  title: 'Join',
  sentence: ' with all of {other}, where it stands',
  inputs: { before: everything(), other: otherPiece('the other piece') },
  help: 'Takes in what another piece shows, and follows it',
  words: 'merge combine attach add piece',
  values: {},
  run: ({ before, other }, _, c) =>
    mergeGeometries([
      { value: before, name: 'own' },
      { value: other.geometry, name: other.name, seed: keyOf(`${c.id}/other`) },
    ]),
});

export const keep = defineStep({
  kind: 'keep',
  title: 'Keep',
  sentence: ' only {by} {faces}{name}',
  inputs: { mesh: input('mesh') },
  hidden: true,
  help: 'One part of a piece that was split',
  values: {
    by: choice('what', 'part', [
      ['part', 'the parts that hold'],
      ['faces', 'the'],
      ['material', 'what is coloured'],
      ['set', 'the set'],
    ]),
    faces: pick('faces', 'face', ['face', 'faces']),
    name: setOrMaterial('name'),
  },
  run: ({ mesh }, v, c) => {
    if (v.by === 'faces' || v.by === 'part') {
      const r = c.find(mesh, v.faces, 'faces');
      if (r.lost.length)
        c.warn({
          text:
            `${r.lost.length} of ${v.faces.keys.length} faces that told this part are gone by a change before ` +
            'this step.',
          remedies: remedies([{ pick: v.faces, found: r }], ([faces]) => ({ faces })),
        });
      if (v.by === 'faces') return keepFaces(mesh, mask(mesh.faceCount, r.indices));
      const { of } = components(mesh);
      const wanted = new Set(Array.from(r.indices, (f) => of[mesh.cornerVertex[mesh.faceStart[f]]]));
      return keepFaces(
        mesh,
        Uint8Array.from({ length: mesh.faceCount }, (_, f) =>
          wanted.has(of[mesh.cornerVertex[mesh.faceStart[f]]]) ? 1 : 0,
        ),
      );
    }
    return keepFaces(
      mesh,
      ofName(mesh, v.by === 'material' ? 'material' : 'group', v.by === 'material' ? mesh.slots : mesh.groups, v.name),
    );
  },
});

function ofName(mesh: Mesh, attribute: string, names: readonly string[], name: string): Uint8Array {
  const at = name === '' ? -1 : names.indexOf(name);
  const data = mesh.attributes[attribute]?.data;
  if (at < 0 && name !== '')
    throw new Error(
      attribute === 'group' ? `There is no set “${name}” any more.` : 'Nothing has that material any more.',
    );
  return Uint8Array.from({ length: mesh.faceCount }, (_, f) => ((data ? data[f] : -1) === at ? 1 : 0));
}

const radius = (label: string, value: number) => length(label, value, { min: 0.000001, max: 100000 });

export const section = defineStep({
  kind: 'section',
  title: 'Start with a section',
  sentence: ', {wide} wide and {high} high, facing {facing}',
  inputs: {},
  help: 'An ellipse or circle as a curve: a section of something longer',
  values: {
    wide: radius('width', 0.1),
    high: radius('height', 0.1),
    facing: choice('facing', 'z', [
      ['z', 'along z'],
      ['x', 'along x'],
      ['y', 'up'],
    ]),
  },
  run: (_, v, c) => {
    const plane = ({ x: 'yz', y: 'xz', z: 'xy' } as const)[v.facing];
    return { curves: makeEllipse(v.wide / 2, v.high / 2, plane, c.id) };
  },
});
