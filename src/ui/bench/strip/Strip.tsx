'use client';
import { IconArrowsMove, IconBoxMultiple, IconColumns2, IconDots, IconFrame, IconGridDots, IconHexagon, IconLine, IconPolygon, IconPoint, IconResize, IconRotate, IconScissors, IconSquareAsterisk, IconStackPush, IconTrash, IconZoomScan, IconLink, IconLayoutGrid, IconFold } from '@tabler/icons-react';
import { useEffect } from 'react';
import { moveDef } from '../../../core/recipe/moves';
import { commands, inHandMove, keep, setHandle, setInHand, setMode } from '../actions';
import { PickCount } from '../recipe/Recipe';
import { Sentence } from '../recipe/Sentence';
import { session } from '../session';
import { bench, useBench, type PickMode } from '../store';

const stroke = 1.6, px = 18;
const MODES: readonly (readonly [PickMode, string, React.ReactNode, string])[] = [
  ['piece', 'Piece', <IconHexagon key="p" size={px} stroke={stroke} />, '1'], ['vertex', 'Vertex', <IconPoint key="v" size={px} stroke={stroke} />, '2'],
  ['edge', 'Edge', <IconLine key="e" size={px} stroke={stroke} />, '3'], ['face', 'Face', <IconPolygon key="f" size={px} stroke={stroke} />, '4'],
];
const TOOLS: Record<string, { label: string; icon: React.ReactNode; modes: readonly PickMode[] }> = {
  extrude: { label: 'Extrude', icon: <IconStackPush size={px} stroke={stroke} />, modes: ['face'] }, inset: { label: 'Inset', icon: <IconFrame size={px} stroke={stroke} />, modes: ['face'] },
  loop: { label: 'Loop cuts', icon: <IconColumns2 size={px} stroke={stroke} />, modes: ['edge'] }, fill: { label: 'Fill', icon: <IconSquareAsterisk size={px} stroke={stroke} />, modes: ['vertex', 'edge'] },
  weld: { label: 'Weld', icon: <IconGridDots size={px} stroke={stroke} />, modes: ['vertex', 'edge', 'face'] }, delete: { label: 'Delete', icon: <IconTrash size={px} stroke={stroke} />, modes: ['piece', 'vertex', 'edge', 'face'] },
  copy: { label: 'Copy', icon: <IconBoxMultiple size={px} stroke={stroke} />, modes: ['piece'] }, 'see-pick': { label: 'See', icon: <IconZoomScan size={px} stroke={stroke} />, modes: ['piece'] },
  cut: { label: 'Cut', icon: <IconScissors size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] }, hold: { label: 'Hold', icon: <IconLink size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] },
  letbe: { label: 'Let be', icon: <IconDots size={px} stroke={stroke} />, modes: ['edge', 'face', 'vertex'] }, unfold: { label: 'Unfold', icon: <IconFold size={px} stroke={stroke} />, modes: ['piece', 'edge', 'face', 'vertex'] },
  texture: { label: 'Texture', icon: <IconLayoutGrid size={px} stroke={stroke} />, modes: ['piece', 'face', 'edge', 'vertex'] },
};
const BY_STAGE: Record<string, readonly string[]> = { shape: ['extrude', 'inset', 'loop', 'fill', 'weld', 'copy', 'delete', 'see-pick'], unwrap: ['cut', 'hold', 'letbe', 'unfold'], finish: ['texture'] };

/** What one picks, then only the tools that fit it. */
export function Strip() {
  const stage = useBench((s) => s.stage), mode = useBench((s) => s.mode), handle = useBench((s) => s.handle), piece = useBench((s) => s.piece), picked = useBench((s) => s.pick.keys.length);
  const all = commands();
  const tool = (id: string) => {
    const t = TOOLS[id], c = all.find((x) => x.id === id)!;
    const needsPick = ['extrude', 'inset', 'loop', 'fill', 'cut', 'hold', 'letbe'].includes(id);
    return <button key={id} title={`${c.title}${c.key ? ` (${c.key})` : ''}`} disabled={!piece || (needsPick && picked === 0)} onClick={() => c.run()}>{t.icon}{t.label}</button>;
  };
  return (
    <div className="strip" role="toolbar" aria-label="Tools" onPointerDown={(e) => e.stopPropagation()}>
      {MODES.filter((m) => stage === 'shape' || m[0] !== 'piece' || stage === 'finish').map(([m, label, icon, key]) => <button key={m} aria-pressed={mode === m} title={`Pick ${m === 'vertex' ? 'vertices' : `${m}s`} (${key})`} onClick={() => setMode(m)}>{icon}{label}</button>)}
      <span className="divider" />
      {stage === 'shape' && mode !== 'piece' && ([['move', 'Move', <IconArrowsMove key="m" size={px} stroke={stroke} />, 'M'], ['turn', 'Turn', <IconRotate key="t" size={px} stroke={stroke} />, 'T'], ['size', 'Size', <IconResize key="s" size={px} stroke={stroke} />, 'S']] as const)
        .map(([h, label, icon, key]) => <button key={h} aria-pressed={handle === h} disabled={!piece} title={`${label} (${key})`} onClick={() => setHandle(h)}>{icon}{label}</button>)}
      {(BY_STAGE[stage] ?? []).filter((id) => TOOLS[id].modes.includes(mode)).map(tool)}
    </div>
  );
}

/** The sentence of the tool in hand. */
export function ToolLine() {
  useBench((s) => s.inHand); useBench((s) => s.document);
  const say = useBench((s) => s.say), stage = useBench((s) => s.stage);
  useEffect(() => {
    if (!say) return;
    const t = setTimeout(() => { if (bench.get().say === say) bench.set({ say: '' }); }, 7000);
    return () => clearTimeout(t);
  }, [say]);
  const move = stage === 'shape' ? inHandMove() : undefined, def = move && moveDef(move.tool);
  if (!move || !def) return say ? <div role="status" className="tool-line flex items-center gap-3"><span>{say}</span><button aria-label="Close the message" className="opacity-70 hover:opacity-100" onClick={() => bench.set({ say: '' })}>×</button></div> : null;
  return (
    <div className="tool-line" role="group" aria-label="The tool in hand" onPointerDown={(e) => e.stopPropagation()}>
      <Sentence title={def.title} sentence={def.sentence} defs={def.values} values={move.values} special={(n) => (n === 'pick' ? <PickCount pick={move.pick} /> : undefined)}
        onChange={(name, value, live) => setInHand({ [name]: value }, live)} onSettle={() => { if (!bench.get().inHand?.fresh) session.settle(); }} onCancel={() => session.cancel()} />
      {bench.get().inHand?.fresh && <button className="ml-3 rounded border px-1.5 text-[11px] opacity-80 hover:opacity-100" onClick={keep}>Keep <span className="num">↵</span></button>}
    </div>
  );
}
