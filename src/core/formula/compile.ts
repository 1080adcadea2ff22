/**
 * Formulas made ready: names looked up, dimensions checked, constant parts worked out once; what is left runs over
 * columns, a block at a time, in plain loops over typed arrays. Nothing is evaluated as code.
 *
 * 1 M vertices, position.y + 0.1 * sin(3 * position.x): see `./glypta bench --only formulas`. Blocks of 1,024 stay in
 * the first cache; whole columns took twice as long.
 */
import { table } from '../math/table';
import { pow } from '../math/exact';
import {
  as,
  BLOCK,
  column,
  fixed,
  isMeasured,
  over,
  scaled,
  together,
  type Code,
  type Known,
  type Scope,
} from './code';
import { FUNCTIONS, plain } from './functions';
import { add, divide, multiply, multiplyBy, settle, subtract } from './loops';
import { FormulaError, parse, type Node, type Operator } from './parse';
import { PLAIN, TEXT, told, TRUTH, widthOf, type Type } from './types';

const isNumber = (t: Type): boolean => t.kind === 'number';

function close(name: string, names: readonly string[]): string {
  const off = (a: string, b: string): number => {
    let row = Array.from({ length: b.length + 1 }, (_, i) => i);
    for (let i = 1; i <= a.length; i++) {
      const next = [i];
      for (let j = 1; j <= b.length; j++)
        next.push(Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)));
      row = next;
    }
    return row[b.length];
  };
  const near = names.map((n) => [off(name.toLowerCase(), n.toLowerCase()), n] as const).sort((a, b) => a[0] - b[0])[0];
  return near && near[0] <= Math.max(1, name.length / 3) ? ` Is “${near[1]}” meant?` : '';
}

const MEMBERS = table({ x: 0, y: 1, z: 2, r: 0, g: 1, b: 2, red: 0, green: 1, blue: 2 });

class Compiler {
  private readonly columns = new Map<string, Code>();
  /** Words are compared and chosen by their number in this list. */
  readonly words: string[] = [];

  constructor(private readonly scope: Scope) {}

  code(n: Node): Code {
    switch (n.kind) {
      case 'number':
        return fixed({ kind: 'number', length: n.length, angle: n.angle, bare: n.bare }, [n.value]);
      case 'text':
        return this.word(n.text);
      case 'name':
        return this.name(n.name, n.at);
      case 'member':
        return this.member(n);
      case 'unary':
        return this.unary(n);
      case 'binary':
        return this.binary(n);
      case 'if':
        return this.choice(n);
      default:
        return this.call(n);
    }
  }

  private word(text: string): Code {
    let at = this.words.indexOf(text);
    if (at < 0) at = this.words.push(text) - 1;
    return fixed(TEXT, [at]);
  }

  private name(name: string, at: readonly [number, number]): Code {
    if (name === 'pi') return fixed(PLAIN, [Math.PI]);
    if (name === 'true' || name === 'yes') return fixed(TRUTH, [1]);
    if (name === 'false' || name === 'no') return fixed(TRUTH, [0]);
    const found = this.scope.known(name);
    if (found?.ramp) throw new FormulaError(`${name} is a ramp: it takes a number, as in ${name}(share.y).`, at);
    if (found?.text !== undefined) return this.word(found.text);
    if (found) {
      // Named twice it is filled once.
      const code = this.columns.get(name) ?? column(found);
      this.columns.set(name, code);
      return code;
    }
    if (FUNCTIONS[name]) throw new FormulaError(`${name} is a function: what it works on comes in brackets.`, at);
    throw new FormulaError(`“${name}” is not known here.${close(name, this.scope.names())}`, at);
  }

  private member(n: Node & { kind: 'member' }): Code {
    const k = MEMBERS[n.name];
    const known = n.of.kind === 'name' && k !== undefined ? this.scope.known(n.of.name) : undefined;
    if (known?.part) {
      const part = known.part.bind(known);
      const type = { ...known.type, kind: 'number' as const };
      return column({ type, help: known.help, fill: (from, count, out) => part(k, from, count, out) });
    }
    const of = this.code(n.of);
    if (widthOf(of.type) !== 3 || k === undefined)
      throw new FormulaError(`${n.name} is not a part of ${told(of.type)}.`, n.at);
    const type = { ...of.type, kind: 'number' as const };
    return over(type, [of], (from, count, out) => {
      const a = of.run(from, count);
      for (let i = 0; i < count; i++) out[i] = a[3 * i + k];
    });
  }

  private unary(n: Node & { kind: 'unary' }): Code {
    const of = this.code(n.of);
    if (n.op === 'not') {
      this.truth(of, n.of);
      return over(TRUTH, [of], (from, count, out) => {
        const a = of.run(from, count);
        for (let i = 0; i < count; i++) out[i] = a[i] === 0 ? 1 : 0;
      });
    }
    if (!isMeasured(of.type)) throw new FormulaError(`${told(of.type)} has no opposite sign.`, n.at);
    return scaled(of, -1, of.type);
  }

  private truth(code: Code, n: Node): void {
    if (code.type.kind !== 'truth')
      throw new FormulaError(`This is ${told(code.type)}; a yes or no is wanted, as in valence > 4.`, n.at);
  }

  private choice(n: Node & { kind: 'if' }): Code {
    const test = this.code(n.test);
    this.truth(test, n.test);
    const both = together(this.code(n.yes), this.code(n.no), this.scope.unit);
    if (!both || both[0].type.kind !== both[1].type.kind)
      throw new FormulaError('After “then” and “else” stand two things that are not alike.', n.at);
    const [yes, no] = both;
    const width = widthOf(yes.type);
    const type = { ...yes.type, bare: yes.type.bare && no.type.bare };
    if (test.constant) return { ...(test.run(0, 1)[0] !== 0 ? yes : no), type };
    return over(type, [test, yes, no], (from, count, out) => {
      const t = test.run(from, count);
      const a = yes.run(from, count);
      const b = no.run(from, count);
      for (let i = 0; i < count; i++)
        for (let k = 0; k < width; k++) out[width * i + k] = t[i] !== 0 ? a[width * i + k] : b[width * i + k];
    });
  }

  private binary(n: Node & { kind: 'binary' }): Code {
    const a = this.code(n.a);
    const b = this.code(n.b);
    if (n.op === 'and' || n.op === 'or') {
      this.truth(a, n.a);
      this.truth(b, n.b);
      const and = n.op === 'and';
      return over(TRUTH, [a, b], (from, count, out) => {
        const x = a.run(from, count);
        const y = b.run(from, count);
        for (let i = 0; i < count; i++) out[i] = (and ? x[i] !== 0 && y[i] !== 0 : x[i] !== 0 || y[i] !== 0) ? 1 : 0;
      });
    }
    if (n.op === '*' || n.op === '/') return this.times(n, a, b);
    if (n.op === '^') return this.power(n, a, b);
    const plainlyAlike = a.type.kind === b.type.kind && !isMeasured(a.type) && (n.op === '=' || n.op === '≠');
    const pair = plainlyAlike ? ([a, b] as [Code, Code]) : this.pair(n, a, b);
    if (n.op === '+' || n.op === '-') return this.added(n, pair);
    if (widthOf(pair[0].type) !== 1)
      throw new FormulaError('Vectors are compared by a part of theirs, as in normal.y.', n.at);
    return compared(n.op, pair);
  }

  private pair(n: Node & { kind: 'binary' }, a: Code, b: Code): [Code, Code] {
    const alike = isMeasured(a.type) && isMeasured(b.type) && widthOf(a.type) === widthOf(b.type);
    const pair = alike ? together(a, b, this.scope.unit) : undefined;
    if (pair) return pair;
    const doing = n.op === '+' || n.op === '-' ? 'added or taken away' : 'compared';
    throw new FormulaError(`Here ${told(a.type)} and ${told(b.type)} are ${doing}: they have to be alike.`, n.at);
  }

  private added(n: Node & { kind: 'binary' }, [a, b]: [Code, Code]): Code {
    const width = widthOf(a.type);
    const type = { ...a.type, bare: a.type.bare && b.type.bare };
    const minus = n.op === '-';
    return over(type, [a, b], (from, count, out) => {
      const x = a.run(from, count);
      const y = b.run(from, count);
      const m = count * width;
      if (minus) subtract(x, y, out, m);
      else add(x, y, out, m);
    });
  }

  private times(n: Node & { kind: 'binary' }, a: Code, b: Code): Code {
    const over3 = n.op === '/' && widthOf(b.type) === 3;
    if (!isMeasured(a.type) || !isMeasured(b.type) || over3 || (widthOf(a.type) === 3 && widthOf(b.type) === 3))
      throw new FormulaError(
        widthOf(a.type) === 3 && widthOf(b.type) === 3
          ? 'Two vectors are multiplied by dot(a, b) or cross(a, b).'
          : `Here ${told(a.type)} and ${told(b.type)} are ${n.op === '*' ? 'multiplied' : 'divided'}: that means ` +
              'nothing.',
        n.at,
      );
    const sign = n.op === '*' ? 1 : -1;
    const type: Type = {
      kind: widthOf(b.type) === 3 ? b.type.kind : a.type.kind,
      length: a.type.length + sign * b.type.length,
      angle: a.type.angle + sign * b.type.angle,
      bare: a.type.bare && b.type.bare,
    };
    const width = widthOf(type);
    const [wa, wb] = [widthOf(a.type), widthOf(b.type)];
    return over(type, [a, b], (from, count, out) => {
      const x = a.run(from, count);
      const y = b.run(from, count);
      if (width === 1) {
        if (sign < 0) divide(x, y, out, count);
        else if (a.constant) multiplyBy(y, x[0], out, count);
        else multiply(x, y, out, count);
        return;
      }
      for (let i = 0; i < count; i++)
        for (let k = 0; k < 3; k++) {
          const p = x[wa === 3 ? 3 * i + k : i];
          const q = y[wb === 3 ? 3 * i + k : i];
          out[3 * i + k] = sign > 0 ? p * q : p / q;
        }
    });
  }

  private power(n: Node & { kind: 'binary' }, a: Code, b: Code): Code {
    if (!isNumber(a.type) || !isNumber(b.type) || b.type.length !== 0 || b.type.angle !== 0)
      throw new FormulaError('A power is of a number, by a plain number.', n.at);
    const measured = a.type.length !== 0 || a.type.angle !== 0;
    const by = b.constant ? b.run(0, 1)[0] : NaN;
    if (measured && !Number.isInteger(2 * by))
      throw new FormulaError(`Of ${told(a.type)} only powers by a fixed whole number are known.`, n.at);
    const type = measured ? { ...a.type, length: a.type.length * by, angle: a.type.angle * by } : a.type;
    return over(type, [a, b], (from, count, out) => {
      const x = a.run(from, count);
      const y = b.run(from, count);
      for (let i = 0; i < count; i++) out[i] = pow(x[i], y[i]);
    });
  }

  /** How bright a picture is, at a vector's x and y, or at two numbers. */
  private pictureAt(picture: NonNullable<Known['picture']>, { name, args, at }: Node & { kind: 'call' }): Code {
    const where = { unit: this.scope.unit, name, at, args };
    const parts = args.map((x) => this.code(x));
    if (parts.length === 1 && parts[0].type.kind === 'vector') {
      const [{ type }] = parts;
      if (type.length !== 0 || type.angle !== 0)
        throw new FormulaError(`${name} is a picture: its place is a plain vector, as uv and share are.`, args[0].at);
      return over(PLAIN, parts, (from, count, out) => {
        const v = parts[0].run(from, count);
        for (let i = 0; i < count; i++) out[i] = picture(v[3 * i], v[3 * i + 1]);
      });
    }
    if (parts.length !== 2)
      throw new FormulaError(`${name} is a picture: it takes a place, as in ${name}(uv), or two numbers.`, at);
    const [x, y] = parts.map((p, i) => plain(p, where, i));
    return over(PLAIN, [x, y], (from, count, out) => {
      const a = x.run(from, count);
      const b = y.run(from, count);
      for (let i = 0; i < count; i++) out[i] = picture(a[i], b[i]);
    });
  }

  private call(n: Node & { kind: 'call' }): Code {
    const { name, args, at } = n;
    if (args.length === 1 && args[0].kind === 'text' && this.scope.asked) {
      const found = this.scope.asked(name, args[0].text);
      if (found) return column(found);
    }
    const { ramp, picture } = this.scope.known(name) ?? {};
    if (picture) return this.pictureAt(picture, n);
    if (ramp) {
      if (args.length !== 1) throw new FormulaError(`${name} is a ramp: it takes one number.`, at);
      const x = plain(this.code(args[0]), { unit: this.scope.unit, name, at, args }, 0);
      return over(PLAIN, [x], (from, count, out) => {
        const v = x.run(from, count);
        for (let i = 0; i < count; i++) out[i] = ramp(v[i]);
      });
    }
    const def = FUNCTIONS[name];
    if (!def) throw new FormulaError(`There is no function “${name}”.${close(name, Object.keys(FUNCTIONS))}`, at);
    if (args.length < def.least || args.length > def.most) {
      const wanted =
        def.least === def.most ? `${def.least}` : `${def.least} to ${def.most === Infinity ? 'many' : def.most}`;
      throw new FormulaError(`${name} takes ${wanted} values in its brackets; here are ${args.length}.`, at);
    }
    return def.make(
      args.map((x) => this.code(x)),
      { unit: this.scope.unit, name, at, args },
    );
  }
}

function compared(op: Operator, [a, b]: [Code, Code]): Code {
  return over(TRUTH, [a, b], (from, count, out) => {
    const x = a.run(from, count);
    const y = b.run(from, count);
    switch (op) {
      case '<':
        for (let i = 0; i < count; i++) out[i] = x[i] < y[i] ? 1 : 0;
        break;
      case '<=':
        for (let i = 0; i < count; i++) out[i] = x[i] <= y[i] ? 1 : 0;
        break;
      case '>':
        for (let i = 0; i < count; i++) out[i] = x[i] > y[i] ? 1 : 0;
        break;
      case '>=':
        for (let i = 0; i < count; i++) out[i] = x[i] >= y[i] ? 1 : 0;
        break;
      case '=':
        for (let i = 0; i < count; i++) out[i] = x[i] === y[i] ? 1 : 0;
        break;
      default:
        for (let i = 0; i < count; i++) out[i] = x[i] !== y[i] ? 1 : 0;
    }
  });
}

/** A formula over elements. Throws a FormulaError, with its place in the text. `wanted`: what it has to come to. */
export function compile(text: string, scope: Scope, wanted?: Type): Code {
  const code = new Compiler(scope).code(parse(text));
  return wanted ? as(code, wanted, scope.unit, [0, text.length]) : code;
}

/** One value, of a formula that names nothing that differs from element to element. */
export function valueOf(text: string, scope: Scope, wanted?: Type): number[] {
  const code = compile(text, scope, wanted);
  if (code.type.kind === 'text') throw new FormulaError('This is a word; a number is wanted.', [0, text.length]);
  return single(code, text);
}

function single(code: Code, text: string): number[] {
  if (!code.constant)
    throw new FormulaError('This differs from element to element; one value is wanted here.', [0, text.length]);
  return Array.from(code.run(0, 1).slice(0, widthOf(code.type)));
}

/** One value, of whatever kind it comes to: a word as itself. */
export function answerOf(text: string, scope: Scope, wanted?: Type): number[] | string {
  const compiler = new Compiler(scope);
  const found = compiler.code(parse(text));
  const code = wanted ? as(found, wanted, scope.unit, [0, text.length]) : found;
  const values = single(code, text);
  return code.type.kind === 'text' ? compiler.words[values[0]] : values;
}

/** Values for so many elements, one column. Numbers that are none count as 0 and are told of by `bad`. */
export function evaluate(
  code: Code,
  count: number,
  progress?: (share: number) => void,
): { values: Float32Array; bad: number } {
  const width = widthOf(code.type);
  const values = new Float32Array(count * width);
  let bad = 0;
  for (let from = 0; from < count; from += BLOCK) {
    const n = Math.min(BLOCK, count - from);
    const block = code.run(from, n);
    const o = from * width;
    const m = n * width;
    if (!settle(block, m, values, o))
      for (let i = 0; i < m; i++) {
        const x = block[i];
        if (x - x === 0) continue;
        values[o + i] = 0;
        bad++;
      }
    if (progress && (from & 0xfffff) === 0) progress(from / count);
  }
  return { values, bad };
}
