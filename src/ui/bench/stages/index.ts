/** The stages, in the order of work. A new one is its file and a line here. */
import { giveStages } from './define';
import { finish } from './finish';
import { gather } from './gather';
import { shape } from './shape';
import { ship } from './ship';
import { stage } from './stage';
import { unwrap } from './unwrap';

giveStages([gather, shape, unwrap, finish, stage, ship]);

export { stageDef, stageDefs, type PanelDef, type StageDef } from './define';
