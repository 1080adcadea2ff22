/** Wrong use of the command line: told in one sentence, exit status 2. */
export class Usage extends Error {}

export interface Options {
  positional: string[];
  values: Record<string, string>;
  flags: Set<string>;
  /** Of those that may be given more than once: all of them, in order. */
  lists: Record<string, string[]>;
}

/** Splits arguments into positional ones, --name value, and --flags. Unknown names are refused. */
export function parseArgs(
  args: readonly string[],
  valued: readonly string[],
  flagged: readonly string[],
  repeated: readonly string[] = [],
): Options {
  const out: Options = { positional: [], values: {}, flags: new Set(), lists: {} };
  for (let i = 0; i < args.length; i++) {
    const a = args[i];
    if (!a.startsWith('--')) {
      out.positional.push(a);
      continue;
    }
    const [name, inline] = a.slice(2).split(/=(.*)/s);
    if (flagged.includes(name)) out.flags.add(name);
    else if (valued.includes(name) || repeated.includes(name)) {
      const v = inline ?? args[++i];
      if (v === undefined) throw new Usage(`--${name} needs a value.`);
      if (repeated.includes(name)) (out.lists[name] ??= []).push(v);
      else out.values[name] = v;
    } else throw new Usage(`--${name} is not known here.`);
  }
  return out;
}

export function numberOption(o: Options, name: string, otherwise: number, min: number, max: number): number {
  const text = o.values[name];
  if (text === undefined) return otherwise;
  const n = Number(text);
  if (!Number.isFinite(n) || n < min || n > max) throw new Usage(`--${name} must be a number from ${min} to ${max}.`);
  return n;
}
