/**
 * One declaration per command, in the file of its area. Buttons, keys, menus and the command search all come from it. A
 * new command is an entry in one of the files beside this one.
 */
import type { PickMode, BenchState } from '../store';

export interface Command {
  /** Once only, and never changed: keys of one's own are kept by it. */
  readonly id: string;
  readonly title: string;
  /** A shorter name, for the strip. */
  readonly label?: string;
  /** What it does, in one line, for tooltips. */
  readonly help?: string;
  /** Other words by which people look for it. */
  readonly words?: string;
  readonly key?: string;
  /** SVG path data on a field of 24 by 24. */
  readonly icon?: string;
  /** What must be picked for it to stand on the strip and in menus; anything, where not said. */
  readonly modes?: readonly PickMode[];
  /** It stands in the menu of a right click, in stages where elements and pieces are worked on (or in these stages). */
  readonly menu?: true | readonly string[];
  /** It stays in hand as a state of the bench, shown pressed. */
  pressed?(s: BenchState): boolean;
  /** True where it can be done now; otherwise why not, in one sentence. */
  when?(s: BenchState): true | string;
  run(): void;
}

export const defineCommands = (list: readonly Command[]): readonly Command[] => list;

let all: readonly Command[] = [];
/** Filled once by `index.ts`. */
export const giveCommands = (list: readonly Command[]): void => {
  all = list;
};
export const commands = (): readonly Command[] => all;
export const command = (id: string): Command | undefined => all.find((c) => c.id === id);
