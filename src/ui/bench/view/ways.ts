import type { ProjectionFrame } from '../../../core/uv/edits/project';

/** Ways of the viewer that commands use; the view puts them here once it draws. */
export const viewer: {
  see(all: boolean): void;
  back(way: -1 | 1): void;
  picture(): Promise<string | null>;
  eye(): [number, number, number];
  pixel(): number;
  way(): [number, number, number];
  seen(): Omit<ProjectionFrame, 'at'> | null;
} = {
  see: () => undefined,
  back: () => undefined,
  picture: async () => null,
  /** Where it is looked from, in the world. */
  eye: () => [0, 0, 1],
  /** Metres that a pixel stands for where it looks at. */
  pixel: () => 0.001,
  /** The way it looks, in the world. */
  way: () => [0, 0, -1],
  /** How the view is turned, in the space of the piece that is worked on. */
  seen: () => null,
};
