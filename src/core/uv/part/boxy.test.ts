import { box, cubeSphere } from '../../make/primitives';
import { tubeAlong } from '../../testing/tubes';
import { lumpyBall } from '../../testing/organic';
import { isBoxy } from './boxy';

const rod = (bend: number, sides: number) =>
  tubeAlong((t) => (bend > 0 ? [Math.cos(bend * t) / bend, Math.sin(bend * t) / bend, 0] : [0, t, 0]), {
    ...{ rings: 90, sides, radius: 0.05, caps: true },
  });

describe('what is made of flat sides', () => {
  it('is a box, however often it is cut, and a straight bar', () => {
    for (const cut of [1, 5])
      expect(isBoxy(box({ width: 1, height: 2, depth: 3, cutX: cut, cutY: 2, cutZ: cut, onGround: true }, 1))).toBe(
        true,
      );
    expect(isBoxy(rod(0, 6))).toBe(true);
    expect(isBoxy(rod(0, 4))).toBe(true);
  });

  it('is no sphere, however fine: none of its edges bends by much, and its sides have no direction', () => {
    for (const cuts of [6, 30, 60, 70]) expect(isBoxy(cubeSphere({ radius: 0.05, cuts }, 1))).toBe(false);
  });

  it('is no rod that is bent little by little, though none of its edges along bends by much', () => {
    for (const sides of [4, 6, 12]) expect(isBoxy(rod(2.5, sides))).toBe(false);
    expect(isBoxy(lumpyBall(10))).toBe(false);
  });
});
