/** Every command. A new one is an entry in the file of its area; a new area is its file and a line here. */
import '../stages';
import { bench } from '../store';
import { benchCommands, stageCommands } from './bench';
import { giveCommands } from './define';
import { measureCommands } from './measure';
import { pieceCommands } from './pieces';
import { picking } from './picking';
import { sheetCommands } from './sheet';
import { stepCommands } from './steps';
import { toolCommands } from './tools';
import { viewCommands } from './view';

giveCommands([
  ...picking,
  ...toolCommands(() => bench.get().mode),
  ...pieceCommands,
  ...sheetCommands,
  ...measureCommands,
  ...viewCommands,
  ...benchCommands,
  ...stageCommands(),
  ...stepCommands(),
]);

export { command, commands, type Command } from './define';
export { commandFor } from './keys';

export { runCommand, whenOf } from './run';
