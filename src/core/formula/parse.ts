/**
 * Formulas as text: infix arithmetic with units, comparisons, `and or not`, `if … then … else …`, functions and names
 * with members. Read by hand into a small tree; every part knows where in the text it stands, so that what is wrong is
 * shown at its place.
 */
import { table } from '../math/table';

export class FormulaError extends Error {
  constructor(
    message: string,
    /** From where to where in the text. */
    readonly at: readonly [number, number],
  ) {
    super(message);
  }
}

export type Operator = '+' | '-' | '*' | '/' | '^' | '<' | '<=' | '>' | '>=' | '=' | '≠' | 'and' | 'or';
interface At {
  readonly at: readonly [number, number];
}
export type Node =
  | (At & { kind: 'number'; value: number; length: number; angle: number; bare: boolean })
  | (At & { kind: 'text'; text: string })
  | (At & { kind: 'name'; name: string })
  | (At & { kind: 'member'; of: Node; name: string })
  | (At & { kind: 'call'; name: string; args: readonly Node[] })
  | (At & { kind: 'unary'; op: '-' | 'not'; of: Node })
  | (At & { kind: 'binary'; op: Operator; a: Node; b: Node })
  | (At & { kind: 'if'; test: Node; yes: Node; no: Node });

/** Metres, radians, or shares. */
const UNITS: Readonly<Record<string, readonly [number, 'length' | 'angle' | 'none']>> = table({
  mm: [0.001, 'length'],
  cm: [0.01, 'length'],
  dm: [0.1, 'length'],
  m: [1, 'length'],
  km: [1000, 'length'],
  um: [1e-6, 'length'],
  µm: [1e-6, 'length'],
  in: [0.0254, 'length'],
  ft: [0.3048, 'length'],
  deg: [Math.PI / 180, 'angle'],
  '°': [Math.PI / 180, 'angle'],
  rad: [1, 'angle'],
  turn: [2 * Math.PI, 'angle'],
  '%': [0.01, 'none'],
});

const LONGEST = 2000;
const DEEPEST = 120;
const WORDS = new Set(['if', 'then', 'else', 'and', 'or', 'not', 'is']);
/** Signs that people type or that are typed for them, and how they are read. */
const ALIKE: Readonly<Record<string, string>> = {
  '×': '*',
  '·': '*',
  '÷': '/',
  '−': '-',
  '–': '-',
  '≤': '<=',
  '≥': '>=',
  '!=': '≠',
  '<>': '≠',
  '==': '=',
};

type Token = At & { kind: 'number' | 'name' | 'word' | 'sign' | 'text' | 'end'; text: string; value?: number };

const TOKEN =
  /\s+|(\d+(?:[.]\d*)?(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?)|([\p{L}_][\p{L}\p{N}_]*)|["“]([^"“”]*)["”]|(<=|>=|!=|<>|==|[-+*/^<>=≠≤≥×·÷−–().,;°%])|(.)/gsu;

function tokens(text: string): Token[] {
  if (text.length > LONGEST)
    throw new FormulaError(`A formula has at most ${LONGEST} letters; this one has ${text.length}.`, [
      LONGEST,
      text.length,
    ]);
  const out: Token[] = [];
  for (const m of text.matchAll(TOKEN)) {
    const at: [number, number] = [m.index, m.index + m[0].length];
    if (m[1] !== undefined) out.push({ kind: 'number', text: m[1], value: Number(m[1]), at });
    else if (m[2] !== undefined) out.push({ kind: WORDS.has(m[2]) ? 'word' : 'name', text: m[2], at });
    else if (m[3] !== undefined) out.push({ kind: 'text', text: m[3], at });
    else if (m[4] !== undefined) out.push({ kind: 'sign', text: ALIKE[m[4]] ?? m[4], at });
    else if (m[5] !== undefined) throw new FormulaError(`“${m[5]}” means nothing in a formula.`, at);
  }
  out.push({ kind: 'end', text: '', at: [text.length, text.length] });
  return out;
}

class Parser {
  private i = 0;
  private depth = 0;

  constructor(private readonly list: readonly Token[]) {}

  private get now(): Token {
    return this.list[this.i];
  }
  private is(text: string): boolean {
    const { kind } = this.now;
    return (kind === 'sign' || kind === 'word') && this.now.text === text;
  }
  private take(text: string): boolean {
    if (!this.is(text)) return false;
    this.i++;
    return true;
  }
  private want(text: string, why: string): void {
    if (!this.take(text)) throw new FormulaError(why, this.now.at);
  }
  private deeper<T>(work: () => T): T {
    if (++this.depth > DEEPEST) throw new FormulaError('This is nested too deep to be read.', this.now.at);
    const out = work();
    this.depth--;
    return out;
  }

  all(): Node {
    if (this.list.length === 1) throw new FormulaError('There is nothing written yet.', this.now.at);
    const out = this.whole();
    const left = this.now;
    if (left.kind !== 'end')
      throw new FormulaError(`Before “${left.text}” something is missing: + or * perhaps.`, left.at);
    return out;
  }

  private whole(): Node {
    return this.deeper(() => {
      const from = this.now.at[0];
      if (!this.take('if')) return this.either();
      const test = this.whole();
      this.want('then', 'After “if …” comes “then”.');
      const yes = this.whole();
      this.want('else', 'After “then …” comes “else”.');
      const no = this.whole();
      return { kind: 'if', test, yes, no, at: [from, no.at[1]] };
    });
  }

  private chain(next: () => Node, ...ops: Operator[]): Node {
    let a = next();
    for (;;) {
      const op = ops.find((x) => this.is(x));
      if (!op) return a;
      this.i++;
      const b = next();
      a = { kind: 'binary', op, a, b, at: [a.at[0], b.at[1]] };
    }
  }

  private either = (): Node => this.chain(this.both, 'or');
  private both = (): Node => this.chain(this.negated, 'and');
  private negated = (): Node =>
    this.deeper(() => {
      const from = this.now.at[0];
      if (!this.take('not')) return this.compared();
      const of = this.negated();
      return { kind: 'unary', op: 'not', of, at: [from, of.at[1]] };
    });

  private compared(): Node {
    const a = this.sum();
    let op: Operator | undefined = (['<=', '>=', '<', '>', '=', '≠'] as const).find((x) => this.is(x));
    if (op) this.i++;
    else if (this.take('is')) op = this.take('not') ? '≠' : '=';
    if (!op) return a;
    const b = this.sum();
    return { kind: 'binary', op, a, b, at: [a.at[0], b.at[1]] };
  }

  private sum = (): Node => this.chain(this.product, '+', '-');
  private product = (): Node => this.chain(this.signed, '*', '/');

  private signed = (): Node =>
    this.deeper(() => {
      const from = this.now.at[0];
      if (this.take('+')) return this.signed();
      if (!this.take('-')) return this.power();
      const of = this.signed();
      return { kind: 'unary', op: '-', of, at: [from, of.at[1]] };
    });

  private power(): Node {
    const a = this.member();
    if (!this.take('^')) return a;
    const b = this.signed();
    return { kind: 'binary', op: '^', a, b, at: [a.at[0], b.at[1]] };
  }

  private member(): Node {
    let of = this.atom();
    while (this.take('.')) {
      const { kind, text, at } = this.now;
      if (kind !== 'name') throw new FormulaError('After the point comes a name, as in position.y.', at);
      this.i++;
      of = { kind: 'member', of, name: text, at: [of.at[0], at[1]] };
    }
    return of;
  }

  private atom(): Node {
    const t = this.now;
    this.i++;
    if (t.kind === 'number') return this.measured(t);
    if (t.kind === 'text') return { kind: 'text', text: t.text, at: t.at };
    if (t.kind === 'name') return this.is('(') ? this.call(t) : { kind: 'name', name: t.text, at: t.at };
    if (t.kind === 'sign' && t.text === '(') {
      const of = this.whole();
      this.want(')', 'A bracket is open that is not closed.');
      return of;
    }
    this.i--;
    if ((t.kind as string) === 'end') throw new FormulaError('Something is missing at the end.', t.at);
    throw new FormulaError(`A number, a name or a bracket belongs here, not “${t.text}”.`, t.at);
  }

  private measured(t: Token): Node {
    // A fraction before a unit belongs together: 1/3 m is a third of a metre.
    const [slash, below, unitOf] = this.list.slice(this.i, this.i + 3);
    const isUnit = unitOf !== undefined && (unitOf.kind === 'name' || unitOf.kind === 'sign') && UNITS[unitOf.text];
    const whole = (x: Token | undefined): boolean => x?.kind === 'number' && Number.isInteger(x.value);
    if (isUnit && whole(t) && whole(below) && slash.kind === 'sign' && slash.text === '/') {
      this.i += 2;
      return this.measured({ ...t, value: t.value! / below.value!, at: [t.at[0], below.at[1]] });
    }
    const unit = this.now;
    const found = unit.kind === 'name' || unit.kind === 'sign' ? UNITS[unit.text] : undefined;
    const plain = { kind: 'number' as const, value: t.value!, length: 0, angle: 0, bare: true, at: t.at };
    if (!found) return plain;
    this.i++;
    const [size, of] = found;
    return {
      ...plain,
      value: t.value! * size,
      length: of === 'length' ? 1 : 0,
      angle: of === 'angle' ? 1 : 0,
      bare: of === 'none',
      at: [t.at[0], unit.at[1]],
    };
  }

  private call(t: Token): Node {
    this.i++;
    const args: Node[] = [];
    if (!this.is(')'))
      do args.push(this.whole());
      while (this.take(',') || this.take(';'));
    const end = this.now.at[1];
    this.want(')', `The bracket after “${t.text}” is not closed.`);
    return { kind: 'call', name: t.text, args, at: [t.at[0], end] };
  }
}

/** Throws a FormulaError that says what is wrong, and where. */
export const parse = (text: string): Node => new Parser(tokens(text)).all();
