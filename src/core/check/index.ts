/** What may be wrong with a mesh. */
import { ALL } from './all';
import type { CheckDef } from './define';

export type { CheckDef, CheckedFor, Mend } from './define';

const byId = new Map(ALL.map((c) => [c.id, c]));
export const checkDefs = (): readonly CheckDef[] => ALL;
export const checkDef = (id: string): CheckDef | undefined => byId.get(id);
