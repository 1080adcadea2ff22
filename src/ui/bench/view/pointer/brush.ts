import * as THREE from 'three';
import type { Dab } from '../../../../core/edit/brush';
import { beginStroke, endStroke, goOn } from '../../brushing';
import { bench, handOf, type BrushHand } from '../../store';
import type { MakePointerTool, PointerAt } from './define';

/** Dabs are at least this share of the radius apart. */
const STEP = 0.2;

/**
 * Draws strokes over the piece that is worked on. A grab takes hold where it begins, and follows the pointer in the
 * plane of the screen.
 */
export const brush: MakePointerTool = (viewer, marks) => {
  let drawing: { values: BrushHand['values']; dabs: Dab[]; last: THREE.Vector3; plane: THREE.Plane } | null = null;

  const hit = (p: PointerAt) => viewer.elements.surfaceAt(p.x, p.y);

  /** Where the brush would be, as wide as it is on the screen. */
  const show = (p: PointerAt) => {
    const hand = handOf(bench.get(), 'brush');
    if (hand) marks.brush([p.frameX, p.frameY], viewer.pixelsOf(hand.values.radius, p.x, p.y));
  };

  return {
    down(p) {
      const hand = handOf(bench.get(), 'brush');
      if (p.button !== 0 || !hand) return false;
      const at = hit(p);
      if (!at) return true;
      const values = p.ctrl ? { ...hand.values, strength: -hand.values.strength } : hand.values;
      const dab: Dab = { at: at.own.toArray(), normal: at.normal.toArray(), by: [0, 0, 0] };
      const looking = viewer.rayAt(p.x, p.y).direction;
      drawing = {
        values: p.shift ? { ...values, what: 'smooth' } : values,
        dabs: [dab],
        last: at.own,
        plane: new THREE.Plane().setFromNormalAndCoplanarPoint(looking.clone().normalize(), at.world),
      };
      bench.set({ hand: { ...hand, values: drawing.values } });
      beginStroke(dab);
      drawing.values = hand.values;
      return true;
    },
    move(p) {
      show(p);
      if (!drawing) return;
      const { values, dabs, last } = drawing;
      let at: THREE.Vector3 | null;
      let normal = dabs[dabs.length - 1].normal;
      if (values.what === 'grab') {
        const world = viewer.rayAt(p.x, p.y).intersectPlane(drawing.plane, new THREE.Vector3());
        at = world && viewer.toOwn(world);
      } else {
        const on = hit(p);
        at = on?.own ?? null;
        if (on) normal = on.normal.toArray();
      }
      if (!at || (values.what !== 'grab' && at.distanceTo(last) < STEP * values.radius)) return;
      const by = at.clone().sub(last).toArray();
      drawing.last = at;
      // A grab is one long dab: what it did is the whole way.
      drawing.dabs = [...dabs, { at: at.toArray(), normal, by }];
      goOn(drawing.dabs);
    },
    up() {
      if (drawing) endStroke(drawing.values);
      drawing = null;
    },
    cancel() {
      drawing = null;
    },
    hover(p) {
      if (!handOf(bench.get(), 'brush')) return false;
      show(p);
      return true;
    },
  };
};
