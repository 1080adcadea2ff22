/** Side words in names: left and right as words, as a last letter after a dot, a dash, a line or a space, in any case. */

const PAIRS: readonly (readonly [string, string])[] = [['left', 'right'], ['port', 'starboard']];
const FRONT: readonly (readonly [string, string])[] = [['front', 'rear'], ['front', 'back'], ['fore', 'aft']];

const likeCase = (word: string, model: string): string => (model === model.toUpperCase() && model.length > 1 ? word.toUpperCase() : model[0] === model[0].toUpperCase() ? word[0].toUpperCase() + word.slice(1) : word);

/** The name of the other side's twin. Front and rear are swapped only when asked for. */
export function swapSides(name: string, frontRear = false): string {
  const pairs = frontRear ? [...PAIRS, ...FRONT] : PAIRS, to = new Map<string, string>();
  for (const [a, b] of pairs) { if (!to.has(a)) to.set(a, b); if (!to.has(b)) to.set(b, a); }
  const words = [...to.keys()].sort((a, b) => b.length - a.length).join('|');
  // A word stands alone when no letter of the same run is beside it: "leftHand" and "arm_left" do, "cleft" does not.
  const out = name.replace(new RegExp(`(?<![a-z])(${words})(?![a-z])|(?<=[a-z])(${words.replace(/\b[a-z]/g, (c) => c.toUpperCase())})(?![a-z])`, 'gi'), (w, _a, _b, at: number) => {
    const before = name[at - 1];
    if (before && /[a-z]/.test(before) && !/^[A-Z]/.test(w)) return w; // inside a word
    if (before && /[A-Z]/.test(before) && w !== w.toLowerCase()) return w;
    return likeCase(to.get(w.toLowerCase())!, w);
  });
  if (out !== name) return out;
  return name.replace(/([._\- ])([lLrR])(?=$|[._\- ]|\d)/, (_, dot: string, side: string) => dot + (side === 'l' ? 'r' : side === 'r' ? 'l' : side === 'L' ? 'R' : 'L'));
}
