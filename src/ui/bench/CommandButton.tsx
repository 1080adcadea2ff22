'use client';
/** A button for a command: its name, picture, key and help all come from the command itself. */
import { useSyncExternalStore } from 'react';
import { Icon } from '../parts/Icon';
import { Tooltip } from '../parts/Tooltip';
import { toolDef } from '../../core/tools';
import { runCommand, whenOf, type Command } from './commands';
import { keyFor, onKeysChanged } from './commands/keys';
import { useBench } from './store';
import { ToolPicture } from './ToolPicture';

/** The key of a command, as it is now. */
export const useKey = (c: Command): string =>
  useSyncExternalStore(
    onKeysChanged,
    () => keyFor(c),
    () => c.key ?? '',
  );

export function CommandHelp({ command: c, why }: { command: Command; why?: string }) {
  const key = useKey(c);
  return (
    <>
      <span className="flex items-center justify-between gap-3">
        <b className="font-semibold">{c.title}</b>
        {key && <kbd className="num opacity-75">{key}</kbd>}
      </span>
      {c.help && <span className="block opacity-85">{c.help}.</span>}
      {toolDef(c.id) && <ToolPicture id={c.id} />}
      {why && <span className="mt-1 block italic opacity-75">{why}</span>}
    </>
  );
}

export function CommandButton({ command: c }: { command: Command }) {
  const can = useBench((s) => whenOf(c, s));
  const pressed = useBench((s) => c.pressed?.(s));
  return (
    <Tooltip content={<CommandHelp command={c} why={can === true ? undefined : can} />}>
      <button aria-pressed={pressed} aria-disabled={can === true ? undefined : true} onClick={() => runCommand(c)}>
        {c.icon && <Icon path={c.icon} />}
        <span>{c.label ?? c.title}</span>
      </button>
    </Tooltip>
  );
}
