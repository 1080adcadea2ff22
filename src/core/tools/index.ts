/** Every tool, in the order in which strip and menus show them. A new tool is its own file and one line here. */
import { bend, stretch, taper, twist } from './bends';
import { bevel, beside, corners } from './bevel';
import { circle, line, slide, space } from './chains';
import { connect, divide, plane, poke, triangles } from './cuts';
import { brush } from './brushes';
import { byCage } from './cage';
import { clean } from './clean';
import type { ToolDef } from './define';
import { copyOut, detach } from './detach';
import { cut, draw, strip } from './drawn';
import { extrude } from './extrude';
import { fill } from './fill';
import { align, ball, flatten, push, relax } from './form';
import { bridge, cap, edgesOut, thicken } from './grow';
import { inset } from './inset';
import { collapse, dissolve, flip, open, outward, quads, spin, symmetrise } from './joins';
import { loop } from './loop';
import { crease, harden } from './marks';
import { drawAlong, layAlong, ontoCurve } from './rails';
import { remove } from './remove';
import { shade } from './shade';
import { move, size, turn } from './transforms';
import { weld } from './weld';

export {
  defineTool,
  FALLOFF,
  FAMILIES,
  REACH,
  type Around,
  type Family,
  type Picked,
  type ToolDef,
  type ToolHandle,
} from './define';

const all = [
  ...[move, turn, size, slide, align, line, space, ontoCurve],
  ...[extrude, inset, drawAlong, edgesOut, bridge, fill, cap, thicken, draw, strip],
  ...[loop, bevel, beside, corners, cut, connect, plane, divide, poke, triangles],
  ...[push, flatten, relax, brush, circle, ball, bend, byCage, layAlong, twist, taper, stretch, crease, harden, shade],
  ...[weld, collapse, dissolve, quads, spin, detach, copyOut, open, flip, outward, symmetrise, clean, remove],
] as unknown as ToolDef[];
const byId = new Map(all.map((t) => [t.id, t]));

export const toolDefs = (): readonly ToolDef[] => all;
export const toolDef = (id: string): ToolDef | undefined => byId.get(id);

/** The value that a bare typed number goes to. */
export const mainValue = (def: Pick<ToolDef, 'main' | 'values'>): string | undefined =>
  def.main ?? Object.keys(def.values).find((name) => typeof def.values[name].default === 'number');
