'use client';
import { command } from '../commands';
import { CommandButton } from '../CommandButton';
import { stageDef } from '../stages/define';
import { useBench, type PickMode } from '../store';

const MODES: readonly PickMode[] = ['piece', 'vertex', 'edge', 'face'];
const HANDLES = ['move', 'turn', 'size'];

/** What one picks, then only the tools that fit it: all of it told by the stage and by the commands themselves. */
export function Strip() {
  const stage = stageDef(useBench((s) => s.stage));
  const mode = useBench((s) => s.mode);
  const tools = stage.tools.map((id) => command(id)!).filter((c) => !c.modes || c.modes.includes(mode));
  if (stage.modes.length === 0) return null;
  return (
    <div className="strip" role="toolbar" aria-label="Tools" onPointerDown={(e) => e.stopPropagation()}>
      {MODES.filter((m) => stage.modes.includes(m)).map((m) => (
        <CommandButton key={m} command={command(`mode-${m}`)!} />
      ))}
      <span className="divider-line" />
      {stage.handles && HANDLES.map((id) => <CommandButton key={id} command={command(id)!} />)}
      {tools.map((c) => (
        <CommandButton key={c.id} command={c} />
      ))}
    </div>
  );
}
