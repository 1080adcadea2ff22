/** Every kind of step. A new kind is one file in steps/ and one line here. */
import * as steps from '../steps';
import type { StepDef } from './define';

const all = Object.values(steps) as unknown as StepDef[];
const byKind = new Map(all.map((s) => [s.kind, s]));

export const stepDefs = (): readonly StepDef[] => all;
export const stepDef = (kind: string): StepDef | undefined => byKind.get(kind);
