/**
 * How a surface looks: what the materials of projects and those of files have in common. What is absent is as it
 * usually is.
 */

/**
 * Pictures a material may show. Surface: green roughness, blue metalness. Shade: red, how much light of the
 * surroundings comes in.
 */
export const MAPS = ['color', 'surface', 'normal', 'shade', 'glow'] as const;
export type MapName = (typeof MAPS)[number];
export type Maps<T> = { [K in MapName]?: T };

/**
 * How a picture lies on the UVs: as they are where nothing is said. UVs are first sized, then turned (radians), then
 * shifted.
 */
export interface Laid {
  /** Which UV set, from 0. */
  set?: number;
  shift?: readonly [number, number];
  turn?: number;
  size?: readonly [number, number];
  /** Of normal and shade: 1 is as drawn. */
  strength?: number;
}

export interface Look {
  roughness: number;
  metalness: number;
  /** Colour, roughness and metalness multiply their pictures, instead of standing in for them. */
  tinted?: boolean;
  /** Opacity, its picture's too, is seen as a blend. */
  seeThrough?: boolean;
  /** Where it is less opaque than this share nothing is there, elsewhere all. */
  cut?: number;
  /** Light of its own, '#rrggbb'; it multiplies the picture of it. */
  glow?: string;
  glowStrength?: number;
  bothSides?: boolean;
  /** Its colour as it is, whatever the light. */
  unlit?: boolean;
  laid?: Maps<Laid>;
}

/** The parts that two looks may differ in beyond roughness and metalness: for passing a look on. */
export function lookOf(from: Look): Look {
  const { roughness, metalness, tinted, seeThrough, cut, glow, glowStrength, bothSides, unlit, laid } = from;
  const all = { roughness, metalness, tinted, seeThrough, cut, glow, glowStrength, bothSides, unlit, laid };
  return Object.fromEntries(Object.entries(all).filter(([, v]) => v !== undefined)) as unknown as Look;
}

/** The same record by map, each value replaced; those for which nothing comes back are left out. */
export function mapMaps<A, B>(maps: Maps<A> | undefined, to: (value: A, name: MapName) => B | undefined): Maps<B> {
  const out: Maps<B> = {};
  for (const name of MAPS) {
    const value = maps?.[name];
    const made = value === undefined ? undefined : to(value, name);
    if (made !== undefined) out[name] = made;
  }
  return out;
}
