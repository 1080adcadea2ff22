/** Materials on faces, and textures made of them. */
import * as changes from '../../../document/changes';
import { session } from '../session';
import { bench, say, workedOn } from '../store';

export function giveMaterial(material: string): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece first.');
    return;
  }
  const keys = s.mode !== 'piece' && s.pick.kind === 'face' ? s.pick.keys : [];
  let step = piece.recipe.findLast((x) => x.kind === 'color')?.id;
  session.change('colour', (d) => {
    if (!step) {
      step = changes.newId();
      const before = piece.recipe.find((x) => x.kind === 'texture');
      changes.addStep(
        d,
        piece.id,
        'color',
        step,
        {},
        before ? piece.recipe[piece.recipe.indexOf(before) - 1]?.id : undefined,
      );
    }
    changes.colorFaces(d, piece.id, step, material, keys);
  });
}

export function makeTexture(): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece first.');
    return;
  }
  if (!piece.recipe.some((x) => x.kind === 'unwrap')) {
    say('There are no UVs yet: unwrap the piece first.');
    return;
  }
  if (piece.recipe.some((x) => x.kind === 'texture')) {
    say('This piece has its texture; it follows every change.');
    return;
  }
  session.change('make texture', (d) => changes.addStep(d, piece.id, 'texture', changes.newId()));
}
