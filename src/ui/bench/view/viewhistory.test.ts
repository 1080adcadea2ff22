import type { CameraState } from './camera';
import { ViewHistory, type Viewing } from './viewhistory';

const at = (yaw: number) => ({ yaw }) as unknown as CameraState;
const pane = (yaw = 0): Viewing => ({ camera: { state: at(yaw) }, past: [], future: [] });

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

/** Turns the camera by several events, and lets it rest. */
function turn(h: ViewHistory, p: Viewing, to: number, rests = true): void {
  h.begin(p);
  for (const k of [0.3, 0.7, 1]) {
    p.camera.state = at(to * k);
    h.moved(p, false);
    jest.advanceTimersByTime(50);
  }
  if (rests) jest.advanceTimersByTime(1000);
}

test('a turn of many events is one view; one goes back and forward through those it rested in', () => {
  const h = new ViewHistory();
  const p = pane();
  for (const to of [1, 2, 3]) turn(h, p, to);
  expect(p.past).toEqual([at(0), at(1), at(2)]);
  const seen: unknown[] = [];
  while (h.back(p, -1)) seen.push(p.camera.state);
  expect(seen).toEqual([at(2), at(1), at(0)]);
  while (h.back(p, 1)) seen.push(p.camera.state);
  expect(seen.slice(3)).toEqual([at(1), at(2), at(3)]);
  expect(h.back(p, 1)).toBe(false);
});

test('asked for while it still moves, back is where the move began', () => {
  const h = new ViewHistory();
  const p = pane();
  turn(h, p, 5, false);
  expect(h.back(p, -1)).toBe(true);
  expect(p.camera.state).toEqual(at(0));
  jest.advanceTimersByTime(1000);
  expect([p.past, p.future]).toEqual([[], [at(5)]]);
});

test('as long as it is held it does not rest, however slowly it goes', () => {
  const h = new ViewHistory();
  const p = pane();
  h.begin(p);
  for (const to of [1, 2]) {
    p.camera.state = at(to);
    h.moved(p, true);
    jest.advanceTimersByTime(5000);
  }
  expect(p.past).toEqual([]);
  h.moved(p, false);
  jest.advanceTimersByTime(400);
  expect(p.past).toEqual([at(0)]);
});

test('what moved nothing leaves nothing; another view than the next ends what was ahead', () => {
  const h = new ViewHistory();
  const p = pane();
  h.begin(p);
  h.moved(p, false);
  jest.advanceTimersByTime(400);
  expect(p.past).toEqual([]);
  turn(h, p, 1);
  turn(h, p, 2);
  h.back(p, -1);
  turn(h, p, 9);
  expect([p.past, p.future]).toEqual([[at(0), at(1)], []]);
});

test('each pane has its own, of a hundred at the most', () => {
  const h = new ViewHistory();
  const [p, q] = [pane(), pane(100)];
  for (let k = 1; k <= 120; k++) turn(h, p, k);
  turn(h, q, 7);
  expect(p.past).toHaveLength(100);
  expect(p.past.at(-1)).toEqual(at(119));
  expect(q.past).toEqual([at(100)]);
});

test('a pane that begins to move unsaid does not go back to where another stood', () => {
  const h = new ViewHistory();
  const [p, q] = [pane(), pane(100)];
  turn(h, p, 1);
  for (const to of [101, 102]) {
    q.camera.state = at(to);
    h.moved(q, false);
  }
  jest.advanceTimersByTime(400);
  expect(q.past).toEqual([at(101)]);
  expect(p.past).toEqual([at(0)]);
});
