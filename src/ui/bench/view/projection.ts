/** The frame of a projection as lines, in the space of the piece. */
import * as THREE from 'three';
import type { Projection, ProjectionFrame, Vector } from '../../../core/uv/edits/project';
import { color } from './looks';
import { wide } from './marks';

const ROUND = 48;

/** 6 numbers per line, in shares of the frame's half sizes along its axes. */
function linesOf(how: Projection): number[] {
  const out: number[] = [];
  const line = (a: readonly number[], b: readonly number[]): void => {
    out.push(...a, ...b);
  };
  const circle = (place: (c: number, s: number) => readonly number[]): void => {
    for (let i = 0; i < ROUND; i++) {
      const [a, b] = [(2 * Math.PI * i) / ROUND, (2 * Math.PI * (i + 1)) / ROUND];
      line(place(Math.cos(a), Math.sin(a)), place(Math.cos(b), Math.sin(b)));
    }
  };
  const rectangle = (z: number): void => {
    const corners = [
      [-1, -1, z],
      [1, -1, z],
      [1, 1, z],
      [-1, 1, z],
    ];
    corners.forEach((c, i) => line(c, corners[(i + 1) % 4]));
  };
  if (how === 'plane') {
    rectangle(1);
    // From where it is seen.
    line([0, 0, 1], [0, 0, 1.6]);
    line([0, 0, 1], [0.08, 0, 1.15]);
    line([0, 0, 1], [-0.08, 0, 1.15]);
  } else if (how === 'box') {
    rectangle(1);
    rectangle(-1);
    for (const x of [-1, 1]) for (const y of [-1, 1]) line([x, y, -1], [x, y, 1]);
  } else if (how === 'cylinder') {
    for (const y of [-1, 1]) circle((c, s) => [s, y, c]);
    for (const [x, z] of [
      [1, 0],
      [-1, 0],
      [0, 1],
    ])
      line([x, -1, z], [x, 1, z]);
    // Where it closes: a double line.
    line([-0.03, -1, -1], [-0.03, 1, -1]);
    line([0.03, -1, -1], [0.03, 1, -1]);
  } else {
    circle((c, s) => [s, 0, c]);
    circle((c, s) => [0, s, c]);
    circle((c, s) => [s, c, 0]);
  }
  return out;
}

export function frameLines(
  how: Projection,
  { at, right, up, toward }: ProjectionFrame,
  half: Vector,
  screen: THREE.Vector2,
): THREE.Group {
  // What goes round is as wide as it is deep.
  const across = Math.max(half[0], half[2]);
  const size =
    how === 'cylinder' || how === 'sphere'
      ? [across, how === 'sphere' ? Math.max(across, half[1]) : half[1], across]
      : half;
  const lines = linesOf(how);
  const points = new Float32Array(lines.length);
  for (let i = 0; i < lines.length; i += 3)
    for (let k = 0; k < 3; k++)
      points[i + k] =
        at[k] + lines[i] * size[0] * right[k] + lines[i + 1] * size[1] * up[k] + lines[i + 2] * size[2] * toward[k];
  const out = new THREE.Group();
  out.add(wide(points, color('value'), 1.6, screen, true));
  return out;
}
