'use client';
/**
 * The sentence of what is in hand; a message where nothing is. A number typed while something is in hand goes to its
 * main value.
 */
import { useEffect, useState } from 'react';
import { flushSync } from 'react-dom';
import { mainValue, toolDef } from '../../../core/tools';
import type { ValueDefs } from '../../../core/recipe/values';
import type { PickKind } from '../../../core/mesh/picks';
import { cancel, inHandMove, keep, setInHand } from '../actions';
import { setBrush } from '../brushing';
import { chooser, setChoosing } from '../choosing';
import { keepPlacing, PLACE_TOOLS, setPlacing } from '../placing';
import { answer, pointTool, soFar } from '../pointing';
import { PickCount } from '../recipe/PickCount';
import { Sentence } from '../recipe/Sentence';
import { session } from '../session';
import { stageDef } from '../stages/define';
import {
  bench,
  handOf,
  useBench,
  type BrushHand,
  type Choosing,
  type Hand,
  type Placing,
  type Pointing,
} from '../store';

const SAID_FOR = 7000;

/** A message goes by itself after a while. */
function useSaid(): string {
  const say = useBench((s) => s.say);
  useEffect(() => {
    if (!say) return;
    const t = setTimeout(() => {
      if (bench.get().say === say) bench.set({ say: '' });
    }, SAID_FOR);
    return () => clearTimeout(t);
  }, [say]);
  return say;
}

const Line = ({ children, row }: { children: React.ReactNode; row?: boolean }) => (
  <div
    className={`tool-line ${row ? 'flex items-center gap-2' : ''}`}
    role="group"
    aria-label="The tool in hand"
    onPointerDown={(e) => e.stopPropagation()}
  >
    {children}
  </div>
);

const Act = ({ name, keyName, onClick }: { name: string; keyName: string; onClick: () => void }) => (
  <button className="btn btn-xs btn-outline ml-3 font-normal" onClick={onClick}>
    {name} <kbd className="num">{keyName}</kbd>
  </button>
);

export function ToolLine() {
  const hand = useBench((s) => s.hand);
  const said = useSaid();
  const handles = useBench((s) => stageDef(s.stage).handles);
  useBench((s) => s.document); // the values of the move in hand are in it
  return (
    <>
      {said && <Said text={said} />}
      {hand?.kind === 'pointing' && <PointLine pointing={hand} />}
      {hand?.kind === 'choosing' && <ChooseLine choosing={hand} />}
      {hand?.kind === 'brush' && <BrushLine brush={hand} />}
      {hand?.kind === 'placing' && handles && <PlaceLine placing={hand} />}
      {hand?.kind === 'move' && handles && inHandMove() && <MoveLine fresh={hand.fresh} />}
    </>
  );
}

/** A message, over what is in hand. */
function Said({ text }: { text: string }) {
  return (
    <div role="status" className="tool-line flex items-center gap-3">
      <span>{text}</span>
      <button
        aria-label="Close the message"
        className="opacity-70 hover:opacity-100"
        onClick={() => bench.set({ say: '' })}
      >
        ×
      </button>
    </div>
  );
}

function MoveLine({ fresh }: { fresh: boolean }) {
  const typed = useBench((s) => s.typed);
  const move = inHandMove()!;
  const def = toolDef(move.tool);
  if (!def) return null;
  return (
    <Line>
      <Sentence
        title={def.title}
        sentence={def.sentence}
        defs={def.values}
        values={move.values}
        special={(n) => (n === 'pick' ? <PickCount pick={move.pick} /> : undefined)}
        onChange={(name, value, live) => setInHand({ [name]: value }, live)}
        onSettle={() => {
          if (!handOf(bench.get(), 'move')?.fresh) session.settle();
        }}
        onCancel={() => session.cancel()}
        typed={typed}
        onTyped={(next) => bench.set({ typed: next })}
      />
      {fresh && <Act name="Keep" keyName="↵" onClick={keep} />}
    </Line>
  );
}

const MANY: Readonly<Record<PickKind, string>> = { vertex: 'vertices', edge: 'edges', face: 'faces' };

/** Picking by a sentence: how many fit stands beside it. */
function ChooseLine({ choosing }: { choosing: Choosing }) {
  const typed = useBench((s) => s.typed);
  const n = useBench((s) => s.pick.keys.length);
  const c = chooser(choosing.id);
  if (!c) return null;
  return (
    <Line>
      <Sentence
        title="Pick"
        sentence={c.sentence}
        defs={c.values}
        values={choosing.values}
        special={(name) => (name === 'many' ? <span>{MANY[choosing.picks]}</span> : undefined)}
        onChange={(name, value) => setChoosing({ [name]: value })}
        onSettle={() => {}}
        onCancel={() => cancel()}
        typed={typed}
        onTyped={(next) => bench.set({ typed: next })}
      />
      <span className="num ml-3 opacity-80">{n.toLocaleString('en')}</span>
      <Act name="Keep" keyName="↵" onClick={keep} />
    </Line>
  );
}

const BRUSH_SENTENCE = ': {what}, {radius} round, by {strength}, fading {falloff}; Shift smooths, Ctrl turns it round';

function BrushLine({ brush }: { brush: BrushHand }) {
  const typed = useBench((s) => s.typed);
  return (
    <Line>
      <Sentence
        title="Brush"
        sentence={BRUSH_SENTENCE}
        defs={toolDef('brush')!.values}
        values={brush.values}
        onChange={(name, value) => setBrush({ [name]: value })}
        onSettle={() => {}}
        onCancel={() => cancel()}
        typed={typed}
        onTyped={(next) => bench.set({ typed: next })}
      />
      <Act name="Put down" keyName="↵" onClick={keep} />
    </Line>
  );
}

const AXES_WORDS = {
  world: 'the world’s axes',
  parent: 'its group’s axes',
  own: 'its own axes',
  view: 'the view’s axes',
  surface: 'the surface’s axes',
} as const;
const ABOUT_WORDS = {
  pivot: 'the pivot',
  pick: 'the middle',
  origin: 'the origin',
  each: 'each its own pivot',
} as const;

function PlaceLine({ placing }: { placing: Placing }) {
  const typed = useBench((s) => s.typed);
  const axes = useBench((s) => s.axes);
  const about = useBench((s) => s.about);
  const pivoting = useBench((s) => s.pivoting);
  const t = PLACE_TOOLS[placing.handle];
  const n = placing.ids.length;
  const words: Record<string, string> = {
    pieces: n === 1 ? 'the piece' : `${n} pieces`,
    axes: AXES_WORDS[axes],
    about: ABOUT_WORDS[about],
  };
  return (
    <Line>
      <Sentence
        title={pivoting && placing.handle !== 'size' ? `${t.title} the pivot of` : t.title}
        sentence={t.sentence}
        defs={t.defs}
        values={placing.values as unknown as Record<string, unknown>}
        special={(name) => (words[name] ? <span>{words[name]}</span> : undefined)}
        onChange={(name, value, live) => {
          setPlacing({ [name]: value as number });
          if (!live) keepPlacing();
        }}
        onSettle={keepPlacing}
        onCancel={() => session.cancel()}
        typed={typed}
        onTyped={(next) => bench.set({ typed: next })}
      />
      {placing.fresh && <Act name="Keep" keyName="↵" onClick={keep} />}
    </Line>
  );
}

/** What the next click of a pointing tool should be, and the length it asks for at the end. */
function PointLine({ pointing }: { pointing: Pointing }) {
  const tool = pointTool(pointing.tool)!;
  const n = pointing.points.length;
  const asking = tool.asks && n >= tool.least ? tool.asks : null;
  return (
    <Line row>
      <b className="font-semibold">{tool.title}.</b>
      {asking ? <Asked label={asking.label} /> : <span>{tool.hint(n)}</span>}
      {soFar() && <span className="num">{soFar()}</span>}
      <Act name="Stop" keyName="Esc" onClick={() => bench.set({ hand: null })} />
    </Line>
  );
}

function Asked({ label }: { label: string }) {
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState('');
  return (
    <label className="flex items-center gap-2">
      {label}
      <input
        autoFocus
        className="value-input"
        aria-label={label}
        aria-invalid={wrong !== ''}
        placeholder="120 mm"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setWrong('');
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') setWrong(answer(text) ?? '');
          if (e.key === 'Escape') bench.set({ hand: null });
        }}
      />
      {wrong && <span role="alert">{wrong}</span>}
    </label>
  );
}

/** The values of what is in hand, in the order of its sentence, and the one a bare number goes to. */
export function handValues(hand: Hand | null): { names: string[]; main: string | undefined } {
  let sentence = '';
  let defs: ValueDefs = {};
  let main: string | undefined;
  if (hand?.kind === 'placing') {
    ({ sentence, defs } = PLACE_TOOLS[hand.handle]);
    main = mainValue({ values: defs });
  } else if (hand?.kind === 'brush') {
    sentence = BRUSH_SENTENCE;
    defs = toolDef('brush')!.values;
    main = 'radius';
  } else if (hand?.kind === 'choosing') {
    const c = chooser(hand.id);
    if (c) {
      ({ sentence, values: defs } = c);
      main = mainValue(c);
    }
  } else if (hand?.kind === 'move') {
    const move = inHandMove();
    const def = move && toolDef(move.tool);
    if (def) {
      ({ sentence, values: defs } = def);
      main = mainValue(def);
    }
  }
  const named = [...sentence.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
  return { names: named.filter((n) => typeof defs[n]?.default === 'number'), main };
}

/**
 * A number begun while something is in hand goes to its main value, rather than to whatever the digit stands for
 * otherwise.
 */
export function typeNumber(e: KeyboardEvent): boolean {
  const { hand } = bench.get();
  if (!hand || !('fresh' in hand) || !hand.fresh || e.ctrlKey || e.metaKey || e.altKey) return false;
  if (!/^[-0-9.,]$/.test(e.key) && e.key !== 'Tab') return false;
  const { main } = handValues(hand);
  if (!main) return false;
  // At once: the next digit already belongs to the field.
  flushSync(() => bench.set({ typed: { name: main, text: e.key === 'Tab' ? null : e.key } }));
  return true;
}
