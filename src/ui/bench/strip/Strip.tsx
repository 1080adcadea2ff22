'use client';
import {
  IconArrowsMove,
  IconBoxMultiple,
  IconColumns2,
  IconDots,
  IconFrame,
  IconGridDots,
  IconHexagon,
  IconLine,
  IconPolygon,
  IconPoint,
  IconResize,
  IconRotate,
  IconScissors,
  IconSquareAsterisk,
  IconStackPush,
  IconTrash,
  IconZoomScan,
  IconLink,
  IconLayoutGrid,
  IconFold,
  IconFolderPlus,
  IconFocus2,
  IconRuler2,
  IconUnlink,
} from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { moveDef } from '../../../core/recipe/moves';
import { commands, inHandMove, keep, setHandle, setInHand, setMode } from '../actions';
import { keepPlacing, PLACE_TOOLS, setPlacing } from '../placing';
import { answer, pointTool, soFar } from '../pointing';
import { PickCount } from '../recipe/Recipe';
import { Sentence } from '../recipe/Sentence';
import { session } from '../session';
import { bench, useBench, type PickMode, type Pointing } from '../store';

const stroke = 1.6,
  px = 18;
const MODES: readonly (readonly [PickMode, string, React.ReactNode, string])[] = [
  ['piece', 'Piece', <IconHexagon key="p" size={px} stroke={stroke} />, '1'],
  ['vertex', 'Vertex', <IconPoint key="v" size={px} stroke={stroke} />, '2'],
  ['edge', 'Edge', <IconLine key="e" size={px} stroke={stroke} />, '3'],
  ['face', 'Face', <IconPolygon key="f" size={px} stroke={stroke} />, '4'],
];
const TOOLS: Record<string, { label: string; icon: React.ReactNode; modes: readonly PickMode[] }> = {
  extrude: { label: 'Extrude', icon: <IconStackPush size={px} stroke={stroke} />, modes: ['face'] },
  inset: { label: 'Inset', icon: <IconFrame size={px} stroke={stroke} />, modes: ['face'] },
  loop: { label: 'Loop cuts', icon: <IconColumns2 size={px} stroke={stroke} />, modes: ['edge'] },
  fill: { label: 'Fill', icon: <IconSquareAsterisk size={px} stroke={stroke} />, modes: ['vertex', 'edge'] },
  weld: { label: 'Weld', icon: <IconGridDots size={px} stroke={stroke} />, modes: ['vertex', 'edge', 'face'] },
  delete: {
    label: 'Delete',
    icon: <IconTrash size={px} stroke={stroke} />,
    modes: ['piece', 'vertex', 'edge', 'face'],
  },
  copy: { label: 'Copy', icon: <IconBoxMultiple size={px} stroke={stroke} />, modes: ['piece'] },
  'see-pick': { label: 'See', icon: <IconZoomScan size={px} stroke={stroke} />, modes: ['piece'] },
  linked: { label: 'Linked', icon: <IconLink size={px} stroke={stroke} />, modes: ['piece'] },
  group: { label: 'Group', icon: <IconFolderPlus size={px} stroke={stroke} />, modes: ['piece'] },
  only: { label: 'Only', icon: <IconFocus2 size={px} stroke={stroke} />, modes: ['piece'] },
  tape: { label: 'Tape', icon: <IconRuler2 size={px} stroke={stroke} />, modes: ['piece', 'vertex', 'edge', 'face'] },
  detach: { label: 'Detach', icon: <IconUnlink size={px} stroke={stroke} />, modes: ['face'] },
  cut: { label: 'Cut', icon: <IconScissors size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] },
  hold: { label: 'Hold', icon: <IconLink size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] },
  letbe: { label: 'Let be', icon: <IconDots size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] },
  unfold: { label: 'Unfold', icon: <IconFold size={px} stroke={stroke} />, modes: ['piece', 'edge', 'face', 'vertex'] },
  texture: {
    label: 'Texture',
    icon: <IconLayoutGrid size={px} stroke={stroke} />,
    modes: ['piece', 'face', 'edge', 'vertex'],
  },
};
const BY_STAGE: Record<string, readonly string[]> = {
  gather: ['copy', 'linked', 'group', 'tape', 'only', 'delete', 'see-pick'],
  shape: [
    'extrude',
    'inset',
    'loop',
    'fill',
    'weld',
    'detach',
    'copy',
    'linked',
    'group',
    'tape',
    'delete',
    'see-pick',
  ],
  unwrap: ['cut', 'hold', 'letbe', 'unfold'],
  finish: ['texture'],
};

/** What one picks, then only the tools that fit it. */
export function Strip() {
  const stage = useBench((s) => s.stage),
    mode = useBench((s) => s.mode),
    handle = useBench((s) => s.handle),
    piece = useBench((s) => s.piece),
    picked = useBench((s) => s.pick.keys.length);
  const all = commands();
  const tool = (id: string) => {
    const t = TOOLS[id],
      c = all.find((x) => x.id === id)!;
    const needsPick = ['extrude', 'inset', 'loop', 'fill', 'detach', 'cut', 'hold', 'letbe'].includes(id);
    return (
      <button
        key={id}
        title={`${c.title}${c.key ? ` (${c.key})` : ''}`}
        disabled={(!piece && id !== 'tape') || (needsPick && picked === 0)}
        onClick={() => c.run()}
      >
        {t.icon}
        {t.label}
      </button>
    );
  };
  return (
    <div className="strip" role="toolbar" aria-label="Tools" onPointerDown={(e) => e.stopPropagation()}>
      {MODES.filter(
        (m) => stage === 'shape' || (stage === 'gather' ? m[0] === 'piece' : m[0] !== 'piece' || stage === 'finish'),
      ).map(([m, label, icon, key]) => (
        <button
          key={m}
          aria-pressed={mode === m}
          title={`Pick ${m === 'vertex' ? 'vertices' : `${m}s`} (${key})`}
          onClick={() => setMode(m)}
        >
          {icon}
          {label}
        </button>
      ))}
      <span className="divider" />
      {(stage === 'shape' || stage === 'gather') &&
        (
          [
            ['move', 'Move', <IconArrowsMove key="m" size={px} stroke={stroke} />, 'M'],
            ['turn', 'Turn', <IconRotate key="t" size={px} stroke={stroke} />, 'T'],
            ['size', 'Size', <IconResize key="s" size={px} stroke={stroke} />, 'S'],
          ] as const
        ).map(([h, label, icon, key]) => (
          <button
            key={h}
            aria-pressed={handle === h}
            disabled={!piece}
            title={`${label} (${key})`}
            onClick={() => setHandle(h)}
          >
            {icon}
            {label}
          </button>
        ))}
      {(BY_STAGE[stage] ?? []).filter((id) => TOOLS[id].modes.includes(mode)).map(tool)}
    </div>
  );
}

/** The sentence of the tool in hand. */
export function ToolLine() {
  useBench((s) => s.inHand);
  useBench((s) => s.document);
  const say = useBench((s) => s.say),
    stage = useBench((s) => s.stage),
    pointing = useBench((s) => s.pointing),
    placing = useBench((s) => s.placing),
    axes = useBench((s) => s.axes),
    about = useBench((s) => s.about);
  useEffect(() => {
    if (!say) return;
    const t = setTimeout(() => {
      if (bench.get().say === say) bench.set({ say: '' });
    }, 7000);
    return () => clearTimeout(t);
  }, [say]);
  if (pointing) return <PointLine pointing={pointing} />;
  if (placing && (stage === 'shape' || stage === 'gather')) {
    const t = PLACE_TOOLS[placing.handle],
      n = placing.ids.length;
    const words: Record<string, string> = {
      pieces: n === 1 ? 'the piece' : `${n} pieces`,
      axes: {
        world: 'the world’s axes',
        parent: 'its group’s axes',
        own: 'its own axes',
        view: 'the view’s axes',
        surface: 'the surface’s axes',
      }[axes],
      about: { pivot: 'the pivot', pick: 'the middle', origin: 'the origin', each: 'each its own pivot' }[about],
    };
    return (
      <div className="tool-line" role="group" aria-label="The tool in hand" onPointerDown={(e) => e.stopPropagation()}>
        <Sentence
          title={bench.get().pivoting && placing.handle !== 'size' ? `${t.title} the pivot of` : t.title}
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
        />
        {placing.fresh && (
          <button className="ml-3 rounded border px-1.5 text-[11px] opacity-80 hover:opacity-100" onClick={keep}>
            Keep <span className="num">↵</span>
          </button>
        )}
      </div>
    );
  }
  const move = stage === 'shape' ? inHandMove() : undefined,
    def = move && moveDef(move.tool);
  if (!move || !def)
    return say ? (
      <div role="status" className="tool-line flex items-center gap-3">
        <span>{say}</span>
        <button
          aria-label="Close the message"
          className="opacity-70 hover:opacity-100"
          onClick={() => bench.set({ say: '' })}
        >
          ×
        </button>
      </div>
    ) : null;
  return (
    <div className="tool-line" role="group" aria-label="The tool in hand" onPointerDown={(e) => e.stopPropagation()}>
      <Sentence
        title={def.title}
        sentence={def.sentence}
        defs={def.values}
        values={move.values}
        special={(n) => (n === 'pick' ? <PickCount pick={move.pick} /> : undefined)}
        onChange={(name, value, live) => setInHand({ [name]: value }, live)}
        onSettle={() => {
          if (!bench.get().inHand?.fresh) session.settle();
        }}
        onCancel={() => session.cancel()}
      />
      {bench.get().inHand?.fresh && (
        <button className="ml-3 rounded border px-1.5 text-[11px] opacity-80 hover:opacity-100" onClick={keep}>
          Keep <span className="num">↵</span>
        </button>
      )}
    </div>
  );
}

/** What the next click of a pointing tool should be, and the length it asks for at the end. */
function PointLine({ pointing }: { pointing: Pointing }) {
  const t = pointTool(pointing.tool)!,
    n = pointing.points.length,
    asking = !!t.asks && n >= t.least,
    [text, setText] = useState(''),
    [wrong, setWrong] = useState('');
  return (
    <div
      className="tool-line flex items-center gap-2"
      role="group"
      aria-label="The tool in hand"
      onPointerDown={(e) => e.stopPropagation()}
    >
      <b className="font-semibold">{t.title}.</b>
      {asking ? (
        <label className="flex items-center gap-2">
          {t.asks!.label}
          <input
            autoFocus
            className="value-input"
            aria-label={t.asks!.label}
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
              if (e.key === 'Escape') bench.set({ pointing: null });
            }}
          />
          {wrong && <span role="alert">{wrong}</span>}
        </label>
      ) : (
        <span>{t.hint(n)}</span>
      )}
      {soFar() && <span className="num">{soFar()}</span>}
      <button
        className="ml-2 rounded border px-1.5 text-[11px] opacity-80 hover:opacity-100"
        onClick={() => bench.set({ pointing: null })}
      >
        Stop <span className="num">Esc</span>
      </button>
    </div>
  );
}
