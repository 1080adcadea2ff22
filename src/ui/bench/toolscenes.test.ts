import { toolDefs } from '../../core/tools';
import { problemsOf } from '../../core/testing/valid';
import { sceneOf } from './toolscenes';

test.each(toolDefs().map((t) => t.id))('the picture of %s shows that something is other afterwards', (id) => {
  const scene = sceneOf(id)!;
  expect(scene).not.toBeNull();
  expect(problemsOf(scene.after)).toEqual([]);
  const { before, after, marked } = scene;
  const moved = (): number => Math.max(...after.positions.map((x, i) => Math.abs(x - before.positions[i])));
  const other = after.faceCount !== before.faceCount || after.vertexCount !== before.vertexCount || marked.length > 0;
  if (!other && !SEEN_ELSEWHERE.has(id)) expect([id, moved() > 0.05]).toEqual([id, true]);
});

/** These turn or shade faces, or hand them over as they are: the block looks the same. */
const SEEN_ELSEWHERE = new Set(['flip', 'outward', 'normals', 'spin-edges', 'symmetrise']);
