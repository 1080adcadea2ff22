/**
 * Picking by sentence: rules, and picks that follow from the one there is, whose values can be typed. What is picked
 * follows them at once; Enter keeps it, Esc goes back to what was picked before. A rule may stay one: then tools that
 * are run on the pick keep the rule, and find anew what fits it each time.
 */
import { LIKENESSES, type Likeness, type QueryName } from '../../core/pick';
import { ruleDefs } from '../../core/rules';
import { keysOf, type PickKind } from '../../core/mesh/picks';
import { angle, choice, complete, count, defaultsOf, toggle, type ValueDefs } from '../../core/recipe/values';
import { askPick, giveHand, indicesNow, keep, setPick } from './actions';
import { bench, handOf, say } from './store';

export interface Chooser {
  readonly id: string;
  /** In lists: “Pick …”. */
  readonly title: string;
  readonly sentence: string;
  readonly words: string;
  readonly picks: readonly PickKind[];
  readonly values: ValueDefs;
  /** It needs something picked to begin from. */
  readonly from: boolean;
  /** The rule that it is. */
  readonly rule?: string;
  readonly query: QueryName;
  /** What the query is asked with, where that is not the values themselves. */
  asks?(values: Record<string, unknown>): Record<string, unknown>;
}

const MANY: Readonly<Record<PickKind, string>> = { vertex: 'vertices', edge: 'edges', face: 'faces' };
const live = toggle('kept as', false, 'staying a rule', 'as they are now');
const AXES = [
  ['x', 'X'],
  ['y', 'Y'],
  ['z', 'Z'],
] as const;

const byRules = ruleDefs().map((r): Chooser => ({
  id: `rule-${r.id}`,
  title: `by rule: ${r.title.toLowerCase()}`,
  sentence: ` {many} ${r.sentence}, {live}`,
  words: `${r.words} rule select`,
  picks: r.picks,
  values: { ...r.values, live },
  from: false,
  rule: r.id,
  query: 'rule',
  asks: (values) => ({ id: r.id, values }),
}));

const LIKE: Readonly<Record<Likeness, string>> = {
  normal: 'that look the same way',
  area: 'of the same area',
  material: 'of the same material',
  set: 'of the same set',
  sides: 'with as many sides',
  length: 'of the same length',
  sharpness: 'as sharp',
  faces: 'on as many faces',
  valence: 'where as many edges meet',
};

/** What more can be picked from what is picked. */
const following: readonly Chooser[] = [
  {
    id: 'loops',
    title: 'loops',
    sentence: ' the loops through the edges, one of {nth}',
    words: 'edge loop round every second third nth',
    picks: ['edge'],
    values: { nth: count('one of', 1, { min: 1, max: 1000 }) },
    from: true,
    query: 'loops',
  },
  {
    id: 'rings',
    title: 'rings',
    sentence: ' the rings of the edges, one of {nth}',
    words: 'edge ring across every second third nth',
    picks: ['edge'],
    values: { nth: count('one of', 1, { min: 1, max: 1000 }) },
    from: true,
    query: 'rings',
  },
  {
    id: 'flat',
    title: 'what is flat around',
    sentence: ' the faces around that bend by less than {angle}',
    words: 'region planar coplanar flat connected angle',
    picks: ['face'],
    values: { angle: angle('less than', 5, { min: 0, max: Math.PI }) },
    from: true,
    query: 'flat',
  },
  {
    id: 'other-side',
    title: 'the other side',
    sentence: ' what lies across {axis}, {and}',
    words: 'mirror symmetry opposite',
    picks: ['face', 'edge', 'vertex'],
    values: { axis: choice('across', 'x', AXES), and: toggle('and', true, 'with what is picked', 'alone') },
    from: true,
    query: 'other-side',
  },
  ...(['face', 'edge', 'vertex'] as const).flatMap((kind) =>
    LIKENESSES[kind].map((by): Chooser => ({
      id: `like-${kind}-${by}`,
      title: `${MANY[kind]} ${LIKE[by]}`,
      sentence: ` the ${MANY[kind]} ${LIKE[by]}`,
      words: 'same similar like equal select',
      picks: [kind],
      values: {},
      from: true,
      query: 'like',
      asks: () => ({ by }),
    })),
  ),
];

export const CHOOSERS: readonly Chooser[] = [...following, ...byRules];
export const chooser = (id: string): Chooser | undefined => CHOOSERS.find((c) => c.id === id);

/** Takes up a chooser; one without values is kept at once. */
export function beginChoosing(id: string): void {
  keep();
  const c = chooser(id);
  const { pick, mesh, mode } = bench.get();
  if (!c || !mesh || mode === 'piece') return;
  const kind = c.picks.includes(mode) ? mode : c.picks[0];
  const from = Array.from(indicesNow());
  if (c.from && (from.length === 0 || pick.kind !== kind)) {
    say(`Pick ${c.picks.map((k) => MANY[k]).join(' or ')} first.`);
    return;
  }
  if (kind !== mode) bench.set({ mode: kind });
  bench.set({
    hand: { kind: 'choosing', id, picks: kind, values: { ...defaultsOf(c.values) }, from, before: pick, fresh: true },
    typed: null,
  });
  choose();
}

export function setChoosing(values: Record<string, unknown>): void {
  const hand = handOf(bench.get(), 'choosing');
  if (!hand) return;
  bench.set({ hand: { ...hand, values: { ...hand.values, ...values } } });
  choose();
}

const names = (c: Chooser): string[] => Object.keys(c.values);

/** Picks what the chooser in hand says now. */
function choose(): void {
  const hand = handOf(bench.get(), 'choosing');
  const c = hand && chooser(hand.id);
  const { mesh } = bench.get();
  if (!hand || !c || !mesh) return;
  const { live: stays, ...own } = complete(c.values, hand.values) as Record<string, unknown>;
  const query = { name: c.query, kind: hand.picks, from: Uint32Array.from(hand.from), values: c.asks?.(own) ?? own };
  askPick(query, ({ indices, missing }) => {
    if (handOf(bench.get(), 'choosing')?.values !== hand.values && names(c).length > 0) return;
    const keys = keysOf(mesh, hand.picks);
    setPick(
      hand.picks,
      Array.from(new Set(Array.from(indices)), (i) => keys[i]),
      null,
      stays && c.rule ? { id: c.rule, values: own } : undefined,
    );
    if (missing) say(`${missing} of ${hand.from.length} have nothing on the other side.`);
    if (names(c).length === 0) keep();
  });
}

giveHand('choosing', {
  keep: () => {
    const n = indicesNow().length;
    bench.set({ hand: null });
    if (n === 0) say('Nothing fits.');
  },
  cancel: () => {
    const hand = handOf(bench.get(), 'choosing');
    bench.set({ hand: null });
    if (hand) setPick(hand.before.kind, hand.before.keys);
  },
});
