'use client';
import { IconDots } from '@tabler/icons-react';
import { FAMILIES, toolDefs } from '../../../core/tools';
import { Icon } from '../../parts/Icon';
import { MenuButton, Tooltip, type MenuItem } from '../../parts/Tooltip';
import { command, runCommand, whenOf } from '../commands';
import { keyFor } from '../commands/keys';
import { onWhole } from '../actions';
import { onStrip } from '../commands/tools';
import { CommandButton, CommandHelp } from '../CommandButton';
import { stageDef } from '../stages/define';
import { useBench, type PickMode } from '../store';

const MODES: readonly PickMode[] = ['piece', 'vertex', 'edge', 'face'];
const HANDLES = ['move', 'turn', 'size'];

/** What one picks, then only the tools that fit it: all of it told by the stage and by the commands themselves. */
export function Strip() {
  const stage = stageDef(useBench((s) => s.stage));
  const mode = useBench((s) => s.mode);
  const tools = stage.tools
    .map((id) => command(id)!)
    .filter((c) => (!c.modes || c.modes.includes(mode)) && onStrip(c.id, mode));
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
      {stage.handles && <AllTools mode={mode} />}
    </div>
  );
}

/** Every tool that fits what is picked, by families; of whole pieces those that work on all there is. */
function AllTools({ mode }: { mode: PickMode }) {
  const picked = useBench((s) => (mode === 'piece' ? s.picked.length : s.pick.keys.length));
  const order = Object.keys(FAMILIES);
  const items = toolDefs()
    .filter((d) => (mode === 'piece' ? onWhole(d) && d.begins !== 'strokes' : d.picks.includes(mode)))
    .filter((d) => d.begins !== 'handles')
    .sort((a, b) => order.indexOf(a.family) - order.indexOf(b.family))
    .map((d): MenuItem => {
      const c = command(d.id)!;
      const can = whenOf(c);
      return {
        id: d.id,
        heading: FAMILIES[d.family],
        label: (
          <Tooltip content={<CommandHelp command={c} />} placement="left">
            <span className="block">{d.title}</span>
          </Tooltip>
        ),
        icon: <Icon path={d.icon} size={15} />,
        aside: <kbd className="num quiet">{keyFor(c)}</kbd>,
        disabled: can === true ? undefined : can,
        run: () => runCommand(c),
      };
    });
  return (
    <MenuButton
      key={picked}
      items={items}
      label={`More tools for ${mode === 'vertex' ? 'vertices' : `${mode}s`}`}
      placement="top-end"
      columns
    >
      <button>
        <IconDots size={20} stroke={1.6} />
        <span>More</span>
      </button>
    </MenuButton>
  );
}
