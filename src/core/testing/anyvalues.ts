import { defaultsOf, type ValueDefs } from '../recipe/values';

/** The id of the other piece that values name. */
export const ANOTHER = 'another';

/** Values somewhere in their range: often the usual, often an end of it, often anything. */
export function anyValues(defs: ValueDefs, size: number, roll: (most: number) => number): Record<string, unknown> {
  const out: Record<string, unknown> = { ...defaultsOf(defs) };
  for (const [name, def] of Object.entries(defs)) {
    if (roll(2)) continue;
    const d = def as {
      kind: string;
      default: unknown;
      min?: number;
      max?: number;
      options?: readonly (readonly [string, string])[];
    };
    if (typeof d.default === 'boolean') out[name] = roll(2) === 1;
    else if (d.kind === 'piece') out[name] = ANOTHER;
    else if (typeof d.default === 'string' && d.options) out[name] = d.options[roll(d.options.length)][0];
    else if (typeof d.default === 'number') {
      const any = [0, 1, 2, -1, size * (roll(2001) / 1000 - 1), -d.default, 1e-9 * size][roll(7)];
      const whole = Number.isInteger(d.default) && d.default > 0;
      out[name] = Math.min(d.max ?? Infinity, Math.max(d.min ?? -Infinity, whole ? Math.round(any) : any));
    }
  }
  return out;
}
