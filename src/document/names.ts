/**
 * Side words in names: left and right as words, as a last letter after a dot, a dash, a line or a space, in any case.
 */

const PAIRS: readonly (readonly [string, string])[] = [
  ['left', 'right'],
  ['port', 'starboard'],
];
const FRONT: readonly (readonly [string, string])[] = [
  ['front', 'rear'],
  ['front', 'back'],
  ['fore', 'aft'],
];

function likeCase(word: string, model: string): string {
  if (model === model.toUpperCase()) return word.toUpperCase();
  return model[0] === model[0].toUpperCase() ? word[0].toUpperCase() + word.slice(1) : word;
}

/** The name of the other side's twin. Front and rear are swapped only when asked for. */
export function swapSides(name: string, frontRear = false): string {
  const pairs = frontRear ? [...PAIRS, ...FRONT] : PAIRS;
  const to = new Map<string, string>();
  for (const [a, b] of pairs) {
    if (!to.has(a)) to.set(a, b);
    if (!to.has(b)) to.set(b, a);
  }
  const list = [...to.keys()].sort((a, b) => b.length - a.length);
  const any = (form: (w: string) => string) => list.map(form).join('|');
  // A word stands alone, or as a part of a name in humps: "arm_left", "leftHand" and "armLeft" do, "cleft" does not.
  const forms = [
    `(?<![A-Za-z])(?:${any((w) => w)})(?![a-z])`,
    `(?<![A-Z])(?:${any((w) => w[0].toUpperCase() + w.slice(1))})(?![a-z])`,
    `(?<![A-Za-z])(?:${any((w) => w.toUpperCase())})(?![A-Za-z])`,
  ];
  const out = name.replace(new RegExp(forms.join('|'), 'g'), (w) => likeCase(to.get(w.toLowerCase())!, w));
  if (out !== name) return out;
  return name.replace(
    /([._\- ])([lLrR])(?=$|[._\- ]|\d)/,
    (_, dot: string, side: 'l' | 'r' | 'L' | 'R') => dot + { l: 'r', r: 'l', L: 'R', R: 'L' }[side],
  );
}
