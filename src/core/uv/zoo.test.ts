/** Whatever there is, laid out in whatever way: no flip, no overlap, nothing outside; or fewer than was asked, told. */
import { subdivide } from '../subdivide';
import { dice } from '../testing/mutants';
import { someOf, THOROUGH } from '../testing/thorough';
import { animal } from '../testing/zoo';
import { UNWRAPPING, uvOf } from '../testing/unwrapping';
import { TOGETHER } from './pack/groups';
import { uvFigures } from './measure';
import { unwrapMesh, type UnwrapOptions } from './unwrap';

/** Throws of the dice; each is another animal with other wishes. */
const THROWS = Number(process.env.GLYPTA_ZOO ?? (THOROUGH ? 30 : 8));

function wishes(roll: (most: number) => number, faces: number): Partial<UnwrapOptions> {
  const some = new Set(Array.from({ length: roll(4) }, () => roll(faces)));
  return {
    stretch: [0, 1.05, 1.3, 2][roll(4)],
    seamAngle: [0.3, 1, Infinity][roll(3)],
    islands: [0, 0, 1, 20][roll(4)],
    hide: roll(3) / 2,
    symmetric: roll(2) === 1,
    size: [64, 256, 1024][roll(3)],
    padding: [0, 2, 8][roll(3)],
    turn: roll(3) > 0,
    pixels: roll(5) === 0,
    sheets: 1 + roll(3),
    together: [undefined, ...TOGETHER][roll(4)],
    part: roll(4) === 0 ? { x: 0.25, y: 0.1, width: 0.7, height: 0.4 } : undefined,
    upright: roll(3) === 0 ? some : undefined,
    finer: roll(3) === 0 ? some : undefined,
    mean: roll(4) === 0 ? 1.02 : 0,
  };
}

/** What is wrong with a throw as it is laid out; empty for nothing. */
function wrongWith(seed: number): string {
  const roll = dice(seed);
  const { name, mesh: plain } = animal(roll);
  // Every third is subdivided: what was of no area is a whole field of it then.
  const mesh = seed % 3 === 0 && plain.faceCount < 700 ? subdivide(plain, { levels: 2 }) : plain;
  const own = wishes(roll, mesh.faceCount);
  const out = unwrapMesh(mesh, { ...UNWRAPPING, ...own });
  const uv = uvOf(out.mesh);
  const f = uvFigures(out.mesh, uv, 256, own.sheets);
  const bad = [
    uv.every(Number.isFinite) ? '' : 'not numbers',
    f.flips > 0 ? `${f.flips} flips` : '',
    f.overlap > 0 ? `overlap ${f.overlap}` : '',
    f.outside > 1e-6 ? `outside ${f.outside}` : '',
  ].filter(Boolean);
  if (bad.length === 0) return '';
  return `${seed} ${name} (${mesh.faceCount} faces): ${bad.join(', ')} ${JSON.stringify(own)}`;
}

const wrongAmong = (seeds: readonly number[]): string[] => seeds.map(wrongWith).filter(Boolean);

test(`${THROWS} of the zoo, laid out as the dice say`, () => {
  expect(wrongAmong(Array.from({ length: THROWS }, (_, i) => i + 1))).toEqual([]);
});

test('throws that were wrong once', () => {
  // No area, on whole texels by material; folds of no area, without a bound; faces that laid flat lie on themselves;
  // slits closed beyond each other.
  expect(wrongAmong(someOf([397, 459, 767, 913, 2389, 2421], 3))).toEqual([]);
});
