/**
 * One declaration per stage, in a file beside this one: what is picked there, which step is worked in, how it is
 * shaded, and which panels and tools stand ready. Top bar, strip, sides and commands follow from the list in
 * `index.ts`.
 */
import type { ComponentType } from 'react';
import type { Piece } from '../../../document/types';
import type { PickMode, Shading } from '../store';

export interface PanelDef {
  readonly id: string;
  readonly Panel: ComponentType;
}

export const definePanel = (id: string, Panel: ComponentType): PanelDef => ({ id, Panel });

export interface StageDef {
  readonly id: string;
  readonly title: string;
  /** What one can do here, for the tour and the help. */
  readonly about: string;
  /** A few things to try, each with the id of the command that does it. */
  readonly first: readonly string[];
  /**
   * What may be picked; the first is picked on entering, unless what is picked now is among them. Empty where nothing
   * is.
   */
  readonly modes: readonly PickMode[];
  /** The kind of step that is worked in. */
  readonly focusKind: string;
  /** Shading on entering; undefined to leave it. */
  readonly shading?: Shading;
  /** Whether pieces and elements can be moved by handles here. */
  readonly handles?: boolean;
  /** Nothing is picked on entering: what was picked elsewhere was picked for something else. */
  readonly fresh?: boolean;
  /** A second view beside the first. */
  readonly Beside?: ComponentType;
  /** What it watches, on the right. */
  readonly panels: readonly PanelDef[];
  /** Ids of the commands on the strip, in order; those that do not fit what is picked are left out. */
  readonly tools: readonly string[];
  /** Whether a piece has been through it. */
  done?(piece: Piece | undefined): boolean;
}

export const defineStage = (def: StageDef): StageDef => def;

let all: readonly StageDef[] = [];
/** Filled once by `index.ts`: actions need to know of stages, and stages hold components that call actions. */
export const giveStages = (list: readonly StageDef[]): void => {
  all = list;
};
export const stageDefs = (): readonly StageDef[] => all;
export const stageDef = (id: string): StageDef => {
  const found = all.find((s) => s.id === id);
  if (!found) throw new Error(`There is no stage “${id}”.`);
  return found;
};
