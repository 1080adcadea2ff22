import { Neighbours } from './neighbours';

const open: Neighbours[] = [];
const window = (project: string): { own: Neighbours; heard: number[] } => {
  const heard: number[] = [];
  const own = new Neighbours(project, (revision) => heard.push(revision));
  open.push(own);
  return { own, heard };
};
const passed = (): Promise<void> => new Promise((r) => setTimeout(r, 50));
afterEach(() => open.splice(0).forEach((n) => n.end()));

test('what one saves the others of the project hear, once; itself and other projects do not', async () => {
  const [a, b, c, other] = [window('quay'), window('quay'), window('quay'), window('mole')];
  a.own.saved(3);
  a.own.saved(3);
  a.own.saved(2);
  await passed();
  b.own.saved(4);
  await passed();
  expect([a, b, c, other].map((w) => w.heard)).toEqual([[4], [3], [3, 4], []]);
});

test('what is no revision is not heard, nor anything by a window that has gone', async () => {
  const [a, b] = [window('quay'), window('quay')];
  const channel = new BroadcastChannel('glypta quay');
  for (const wrong of ['5', NaN, 1.5, null, { revision: 5 }]) channel.postMessage(wrong);
  channel.close();
  b.own.end();
  a.own.saved(1);
  await passed();
  expect([a.heard, b.heard]).toEqual([[], []]);
});

test('without such channels nothing is heard, and nothing goes wrong', async () => {
  const had = globalThis.BroadcastChannel;
  Reflect.deleteProperty(globalThis, 'BroadcastChannel');
  const [a, b] = [window('quay'), window('quay')];
  a.own.saved(1);
  globalThis.BroadcastChannel = had;
  await passed();
  expect(b.heard).toEqual([]);
});
