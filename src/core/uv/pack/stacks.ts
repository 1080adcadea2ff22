/** Islands that lie on each other by intent, box on box, as stacking lays them: packed as one, they stay so. */
import type { PackIsland } from './cells/boxes';
import { boxOf, type Box } from './cells/outline';

const { abs, floor, max } = Math;

/** Boxes are one where no side is farther off than this, of the sheet. */
const NEAR = 2e-4;

/** Numbers of islands that lie on each other, by where they lie; most lists have one. In order of their first. */
export function stacksOf(islands: readonly Float64Array[]): number[][] {
  const boxes = islands.map(boxOf);
  const cells = new Map<string, number[]>();
  const out: number[][] = [];
  boxes.forEach((b, i) => {
    const [cx, cy] = [floor(b.x / NEAR), floor(b.y / NEAR)];
    let to: number[] | undefined;
    for (let dx = -1; dx <= 1 && !to; dx++)
      for (let dy = -1; dy <= 1 && !to; dy++)
        to = cells
          .get(`${cx + dx} ${cy + dy}`)
          ?.map((k) => out[k])
          .find(([first]) => isOne(boxes[first], b));
    if (to) {
      to.push(i);
      return;
    }
    const key = `${cx} ${cy}`;
    cells.set(key, [...(cells.get(key) ?? []), out.length]);
    out.push([i]);
  });
  return out;
}

const isOne = (a: Box, b: Box): boolean =>
  max(a.width, a.height) > 0 &&
  abs(a.x - b.x) < NEAR &&
  abs(a.y - b.y) < NEAR &&
  abs(a.width - b.width) < NEAR &&
  abs(a.height - b.height) < NEAR;

/** Numbers that share a name in one list each, those without one alone; in order of their first. */
export function togetherBy(names: readonly (number | undefined)[]): number[][] {
  const lists = new Map<number, number[]>();
  const out: number[][] = [];
  names.forEach((name, i) => {
    const had = name === undefined ? undefined : lists.get(name);
    if (had) {
      had.push(i);
      return;
    }
    const list = [i];
    out.push(list);
    if (name !== undefined) lists.set(name, list);
  });
  return out;
}

/** Each stack as one island. */
export function asOne<T extends PackIsland>(islands: readonly T[], stacks: readonly number[][]): (T | PackIsland)[] {
  return stacks.map((list) => {
    if (list.length === 1) return islands[list[0]];
    let corners = 0;
    let count = 0;
    for (const i of list) {
      corners += islands[i].points.length;
      count += islands[i].triangles.length;
    }
    const points = new Float64Array(corners);
    const triangles = new Uint32Array(count);
    let at = 0;
    let t = 0;
    for (const i of list) {
      const own = islands[i];
      points.set(own.points, at);
      for (let k = 0; k < own.triangles.length; k++) triangles[t++] = own.triangles[k] + at / 2;
      at += own.points.length;
    }
    return {
      points,
      triangles,
      upright: list.some((i) => islands[i].upright),
      level: list.some((i) => islands[i].level),
    };
  });
}

/** What was placed as one, each by itself again. */
export function eachAlone(
  islands: readonly PackIsland[],
  stacks: readonly number[][],
  placed: readonly Float64Array[],
): Float64Array[] {
  const out = new Array<Float64Array>(islands.length);
  stacks.forEach((list, s) => {
    let at = 0;
    for (const i of list) {
      const n = islands[i].points.length;
      out[i] = placed[s].length > 0 ? placed[s].slice(at, at + n) : new Float64Array(0);
      at += n;
    }
  });
  return out;
}
