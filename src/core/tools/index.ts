/** Every tool, in the order in which strip and menus show them. A new tool is its own file and one line here. */
import { extrude } from './extrude';
import { inset } from './inset';
import { loop } from './loop';
import { fill } from './fill';
import { weld } from './weld';
import { copyOut, detach } from './detach';
import { remove } from './remove';
import { move, size, turn } from './transforms';
import type { ToolDef } from './define';

export { FALLOFF } from './transforms';
export { defineTool, type Picked, type ToolDef, type ToolHandle } from './define';

const all = [move, turn, size, extrude, inset, loop, fill, weld, detach, copyOut, remove] as unknown as ToolDef[];
const byId = new Map(all.map((t) => [t.id, t]));

export const toolDefs = (): readonly ToolDef[] => all;
export const toolDef = (id: string): ToolDef | undefined => byId.get(id);

/** The value that a bare typed number goes to. */
export const mainValue = (def: Pick<ToolDef, 'main' | 'values'>): string | undefined =>
  def.main ?? Object.keys(def.values).find((name) => typeof def.values[name].default === 'number');
