/** What parting a surface is asked, and what it comes to. */
import type { Laid } from '../flatten/layflat';
import type { Patch } from '../flatten/patch';

/**
 * Where nothing is said of the mean, no island is drawn more than this on its own: what is laid out worse than that
 * is better off as two. Without it a scan with broken edges came to 140 islands for 165, but at a mean of 1.025 for
 * 1.013 and 56.7 % full for 60.1; a body to 154 for 174, at 1.018 for 1.014; branches to 70 for 76. At 1.05 those are
 * 163, 174 and 113.
 */
export const DRAWN = 1.1;

export interface AutoOptions {
  /** Edges that are cut whatever comes: marked by hand, open, on three faces. */
  seam: Uint8Array;
  /** Edges that are seams because they bend, which small patches may be joined over. */
  soft: Uint8Array;
  /** Patches are not joined over a border that bends by more on the whole, but for small ones. Radians. */
  bend: number;
  /**
   * As many islands as are wanted: until there are no more, patches are joined over whatever bends. 0 for as it comes.
   */
  islands: number;
  /** Edges that may not be cut. */
  hold: ReadonlySet<number>;
  /** 1.3: no place is drawn more than that one way against the other. */
  bound: number;
  /** No island is drawn more than this one way against the other on the mean; as it comes where it is not said. */
  mean?: number;
  /** 0 to 1: how much borders are drawn straight. */
  straight: number;
  /** How dear it is to cut an edge, for its length; the bend of the edge is known. */
  weigh(edge: number): number;
  progress?: (share: number) => void;
  /** Only where to part is asked for: nothing is cut open that is not so by being parted. */
  rough?: boolean;
  /** Strips narrower than this are joined over whatever bends; metres. */
  narrow?: number;
  /** Of all that goes on the sheet, where this surface is a part of it; m². */
  area?: number;
}

export interface Island {
  patch: Patch;
  laid: Laid;
  /** It lies as it was planned on the cells. */
  planned?: true;
}
