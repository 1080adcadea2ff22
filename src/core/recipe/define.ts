/**
 * One definition per kind of step and per kind of move. From it come the schema, the sentence, the form, the command search entry and
 * what the evaluator runs.
 */
import type { Scene } from '../formats/scene';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import type { Step, ValueDefs, ValuesOf } from './values';

export interface Material {
  id: string;
  name: string;
  /** '#rrggbb', sRGB. */
  color: string;
  roughness: number;
  metalness: number;
  /** Ids of the project's pictures; `surface` is green roughness, blue metalness. */
  maps?: { color?: string; surface?: string };
}

/** Something a step wants said, and what could be done about it. */
export interface Warning {
  text: string;
  /** Label of a link, and the values it sets on this step. */
  remedy?: { label: string; values: Record<string, unknown> };
}

export interface StepContext {
  /** Seed of the keys this step makes. */
  id: number;
  materials: readonly Material[];
  /** Bytes of a blob by its SHA-256. Throws where it is not to be had. */
  blob(sha: string): Promise<Uint8Array>;
  /** The end of another recipe, remembered like any. Throws what its first failing step says. */
  follow(steps: readonly Step[]): Promise<Mesh>;
  /** A stored file, read as a scene. Files of several pieces are read once. */
  scene(sha: string, name: string): Promise<Scene>;
  /** 0..1. Throws Cancelled when the work has been overtaken. */
  progress(share: number): void;
  warn(warning: string | Warning): void;
  /** Figures worth showing beside the step. */
  tell(name: string, value: number): void;
  /** Remembers a part of the work under a name of its own, as the evaluator remembers steps. */
  remember(name: string, make: () => Mesh): Mesh;
}

export class Cancelled extends Error {
  constructor() {
    super('cancelled');
  }
}

export interface StepDef<D extends ValueDefs = ValueDefs> {
  readonly kind: string;
  /** The verb of the sentence; shown bold. */
  readonly title: string;
  /** The rest of the sentence, with {values} in it. */
  readonly sentence: string;
  /** Whether it starts a recipe or goes on from the mesh before. */
  readonly takes: 'nothing' | 'mesh';
  /** It reads the project's materials. */
  readonly usesMaterials?: boolean;
  /** One line for the command search. */
  readonly help: string;
  /** Not offered in "Then…": made by other ways. */
  readonly hidden?: boolean;
  readonly values: D;
  run(input: { mesh: Mesh }, values: ValuesOf<D>, context: StepContext): Mesh | Promise<Mesh>;
}

export const defineStep = <D extends ValueDefs>(def: StepDef<D>): StepDef<D> => def;

export interface MoveDef<D extends ValueDefs = ValueDefs> {
  readonly tool: string;
  readonly title: string;
  /** The rest of the sentence; {pick} stands for what was picked. */
  readonly sentence: string;
  readonly picks: readonly PickKind[];
  readonly values: D;
  /** Consecutive moves of one pick by this tool become one; undefined if these two cannot. */
  merge?(a: ValuesOf<D>, b: ValuesOf<D>): ValuesOf<D> | undefined;
  run(mesh: Mesh, pick: { kind: PickKind; indices: Uint32Array }, values: ValuesOf<D>, id: number): Mesh;
}

export const defineMove = <D extends ValueDefs>(def: MoveDef<D>): MoveDef<D> => def;
