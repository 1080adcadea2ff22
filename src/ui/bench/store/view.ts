/** How things are looked at, and which parts of the bench are open. Nothing of this is kept in the project. */
export type Shading = 'clay' | 'lines' | 'xray' | 'materials' | 'checker';
export const SHADINGS: readonly (readonly [Shading, string])[] = [
  ['clay', 'clay with edges'],
  ['lines', 'lines only'],
  ['xray', 'x-ray'],
  ['materials', 'materials'],
  ['checker', 'checker'],
];

export type ViewName = 'Persp' | 'Front' | 'Back' | 'Side' | 'Left' | 'Top' | 'Bottom';
/** The other way round. */
export const OPPOSITE: Readonly<Partial<Record<ViewName, ViewName>>> = {
  Front: 'Back',
  Back: 'Front',
  Side: 'Left',
  Left: 'Side',
  Top: 'Bottom',
  Bottom: 'Top',
};

/** What may lie over the bench, one at a time. */
export type Over = 'search' | 'keys' | 'start' | 'history' | 'tour' | 'solve' | 'variations' | 'compare';

export interface ViewSlice {
  /** Id of the stage one works in. */
  stage: string;
  /** The kind of step that is worked in there. */
  focusKind: string;
  four: boolean;
  /** The step whose result is looked at while a key is held. */
  peek: string | null;
  /** Steps pinned to be compared. */
  pinned: readonly string[];
  /** The attribute that the piece is coloured by. */
  coloured: string | null;
  /** Some pane shows materials. */
  textures: boolean;
  shading: Shading;
  /** Boxes, lassos and brushes pick what is hidden too. */
  through: boolean;
  /** Radius in pixels of the brush one picks with; null where one picks by clicks. */
  pickBrush: number | null;
  view: ViewName;
  panels: boolean;
  drawer: boolean;
  /** The map of the recipe stands beside the view. */
  map: boolean;
  over: Over | null;
  /** What is under the pointer, in words. */
  hovered: string;
  /** What the shown attribute is under the pointer. */
  reading: readonly number[] | null;
  /** One sentence for the person, for a while. */
  say: string;
  /** The step whose losses are lit up in the view, where that is not the one worked in. */
  lit: string | null;
}

export const viewSlice: ViewSlice = {
  stage: 'shape',
  focusKind: 'shape',
  four: false,
  textures: false,
  coloured: null,
  peek: null,
  pinned: [],
  shading: 'clay',
  through: false,
  pickBrush: null,
  view: 'Persp',
  panels: true,
  drawer: false,
  map: false,
  over: null,
  hovered: '',
  reading: null,
  say: '',
  lit: null,
};
