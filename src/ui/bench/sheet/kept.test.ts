import { KeptDrawing, stretched } from './kept';

const frame = (x: number, side: number) => ({ size: { w: 300, h: 200 }, square: { x, y: 20, side }, dpr: 1 });
const later = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** A canvas that notes which drawing was put on it, and where. */
function seen() {
  const put: { what: unknown; at: number[] }[] = [];
  const g = { drawImage: (what: { name?: unknown }, ...at: number[]) => put.push({ what: what.name, at }) };
  return { g: g as unknown as CanvasRenderingContext2D, put };
}

function kept() {
  let told = 0;
  const drawing = new KeptDrawing(
    () => {
      told++;
    },
    () => {
      const canvas: { name?: string; getContext(): unknown } = {
        getContext: () => ({ setTransform: () => undefined, canvas }),
      };
      return canvas as unknown as HTMLCanvasElement;
    },
  );
  /** Paints in so many steps, and calls what it painted by a name. */
  const paint = (name: string, steps: number, each = () => undefined as void) =>
    function* (on: CanvasRenderingContext2D): Generator<void> {
      for (let i = 0; i < steps; i++) {
        each();
        yield;
      }
      (on.canvas as unknown as { name: string }).name = name;
    };
  return { drawing, paint, told: () => told };
}

test('a drawing stretched to another square has every place of the sheet where that has it', () => {
  const made = frame(10, 100);
  const to = { x: -35, y: 7, side: 260 };
  const { x, y, w, h } = stretched(made, to);
  for (const [u, v] of [
    [0, 0],
    [1, 1],
    [0.3, 0.8],
  ]) {
    // Where it is in the drawing, as a share of it, and so on the screen.
    const [px, py] = [made.square.x + u * made.square.side, made.square.y + v * made.square.side];
    expect(x + (px / 300) * w).toBeCloseTo(to.x + u * to.side, 9);
    expect(y + (py / 200) * h).toBeCloseTo(to.y + v * to.side, 9);
  }
});

test('it is painted a slice at a time, told when it is there, and not painted again while nothing changes', async () => {
  const { drawing, paint, told } = kept();
  const { g, put } = seen();
  const slow = (): void => {
    for (const end = performance.now() + 3; performance.now() < end;);
  };
  drawing.show(g, ['a'], frame(0, 100), paint('first', 12, slow));
  expect([put.length, told()]).toEqual([0, 0]);
  // Others have their turn while it is painted.
  let turns = 0;
  while (told() === 0 && turns < 500) {
    turns++;
    await later(1);
  }
  expect(turns).toBeGreaterThan(2);
  let again = 0;
  drawing.show(
    g,
    ['a'],
    frame(0, 100),
    paint('again', 1, () => void again++),
  );
  await later(150);
  expect([put.map((p) => p.what), put[0].at, again]).toEqual([['first'], [0, 0, 300, 200], 0]);
});

test('zoomed, what there is is stretched and drawn sharply once it rests; what changes is painted anew', async () => {
  const { drawing, paint, told } = kept();
  const { g, put } = seen();
  drawing.show(g, ['a'], frame(0, 100), paint('first', 1));
  await later(30);
  let near = 0;
  for (const side of [120, 150, 200]) {
    drawing.show(
      g,
      ['a'],
      frame(0, side),
      paint(`at ${side}`, 1, () => void near++),
    );
    await later(10);
  }
  expect([put.map((p) => p.what), near]).toEqual([['first', 'first', 'first'], 0]);
  await later(200);
  drawing.show(g, ['a'], frame(0, 200), paint('not asked for', 1));
  expect([put[3], near, told()]).toEqual([{ what: 'at 200', at: [0, 0, 300, 200] }, 1, 2]);
  drawing.show(g, ['b'], frame(0, 200), paint('other', 1));
  await later(30);
  drawing.show(g, ['b'], frame(0, 200), paint('other again', 1));
  expect(put.at(-1)!.what).toBe('other');
});

test('what is being painted is finished before what came after it, and nothing goes on once it has ended', async () => {
  const { drawing, paint, told } = kept();
  const { g, put } = seen();
  let steps = 0;
  const slow = (): void => {
    steps++;
    for (const end = performance.now() + 5; performance.now() < end;);
  };
  drawing.show(g, ['a'], frame(0, 100), paint('first', 8, slow));
  await later(12);
  for (const key of ['b', 'c', 'd']) drawing.show(g, [key], frame(0, 100), paint(key, 1));
  while (told() === 0) await later(5);
  drawing.show(g, ['e'], frame(0, 100), paint('e', 1));
  expect(put.at(-1)!.what).toBe('first');
  await later(40);
  drawing.show(g, ['e'], frame(0, 100), paint('not asked for', 1));
  expect(put.at(-1)!.what).toBe('e');
  steps = 0;
  drawing.show(g, ['f'], frame(0, 100), paint('f', 50, slow));
  await later(20);
  drawing.end();
  const done = steps;
  await later(80);
  expect(steps).toBeLessThanOrEqual(done + 2);
  expect(told()).toBe(2);
});
