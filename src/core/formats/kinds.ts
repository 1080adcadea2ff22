/**
 * The kinds of files that models come in and go out as: one entry each. Reading, writing, the command line and the file
 * pickers all go by this list. Readers and writers are loaded when first used.
 */
import type { Scene } from './scene';

export interface ReadInput {
  bytes: Uint8Array;
  name: string;
  beside: ReadonlyMap<string, Uint8Array>;
  progress?: (share: number) => void;
}

export interface FormatKind {
  kind: string;
  title: string;
  /** Without the dot; the first is what is written. */
  endings: readonly string[];
  /** Whether a file is of this kind, by its first bytes. Kinds that have no mark of their own go by their ending. */
  mark?(bytes: Uint8Array): boolean;
  /** It says the length of its unit and its up axis. */
  scaled?: boolean;
  /** It has room for one UV set. */
  oneSet?: boolean;
  read(input: ReadInput): Promise<Scene> | Scene;
  /** All files it is written as; the first is the file itself. */
  write(scene: Scene, stem: string): Promise<[string, Uint8Array][]>;
}

const starts =
  (...marks: string[]) =>
  (b: Uint8Array): boolean =>
    marks.some((m) => b.length >= m.length && [...m].every((c, i) => b[i] === c.charCodeAt(0)));
const textHead = (b: Uint8Array): string =>
  new TextDecoder()
    .decode(b.subarray(0, 2048))
    .replace(/^\uFEFF/, '')
    .trimStart();

export const KINDS: readonly FormatKind[] = [
  {
    kind: 'glb',
    title: 'GLB',
    endings: ['glb'],
    mark: starts('glTF'),
    scaled: true,
    read: async ({ bytes, name }) => (await import('./gltf')).readGlb(bytes, name),
    write: async (scene, stem) => [[`${stem}.glb`, await (await import('./gltf')).writeGlb(scene)]],
  },
  {
    kind: 'gltf',
    title: 'glTF',
    endings: ['gltf'],
    mark: (b) =>
      /^\{[\s\S]*"asset"\s*:/.test(textHead(b)) ||
      (textHead(b).startsWith('{') && /"(buffers|meshes|nodes)"\s*:/.test(textHead(b))),
    scaled: true,
    read: async ({ bytes, name, beside }) => (await import('./gltf')).readGltf(bytes, name, beside),
    write: async (scene, stem) => (await import('./gltf')).writeGltf(scene, stem),
  },
  {
    kind: '3mf',
    oneSet: true,
    title: '3MF',
    endings: ['3mf'],
    scaled: true,
    read: async ({ bytes, name, progress }) => (await import('./threemf')).read3mf(bytes, name, progress),
    write: async (scene, stem) => [[`${stem}.3mf`, await (await import('./threemf')).write3mf(scene)]],
  },
  {
    kind: 'ply',
    oneSet: true,
    title: 'PLY',
    endings: ['ply'],
    mark: starts('ply\n', 'ply\r'),
    read: async ({ bytes, name, progress }) => (await import('./ply')).readPly(bytes, name, progress),
    write: async (scene, stem) => [[`${stem}.ply`, (await import('./ply')).writePly(scene)]],
  },
  {
    kind: 'stl',
    title: 'STL',
    endings: ['stl'],
    read: async ({ bytes, name, progress }) => (await import('./stl')).readStl(bytes, name, progress),
    write: async (scene, stem) => [[`${stem}.stl`, (await import('./stl')).writeStl(scene)]],
  },
  {
    kind: 'svg',
    title: 'SVG',
    endings: ['svg'],
    mark: (b) => /^<(\?xml|!--|!doctype svg|svg[\s>])/i.test(textHead(b)) && /<svg[\s>]/i.test(textHead(b)),
    scaled: true,
    read: async ({ bytes, name }) => (await import('./svg')).readSvg(bytes, name),
    write: async (scene, stem) => [[`${stem}.svg`, (await import('./svg')).writeSvg(scene)]],
  },
  {
    kind: 'obj',
    oneSet: true,
    title: 'OBJ',
    endings: ['obj'],
    read: async ({ bytes, name, beside, progress }) =>
      (await import('./obj')).readObj(bytes, name, { beside, progress }),
    write: async (scene, stem) => {
      const { obj, mtl, images } = (await import('./obj')).writeObj(scene, `${stem}.mtl`);
      const { safeName } = await import('./scene');
      return [
        [`${stem}.obj`, obj],
        ...(scene.materials.length ? [[`${stem}.mtl`, mtl] as [string, Uint8Array]] : []),
        ...images.map((i): [string, Uint8Array] => [safeName(i.name), i.bytes]),
      ];
    },
  },
];

export const endingOf = (name: string): string => /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase() ?? '';
export const kindByEnding = (name: string): FormatKind | undefined =>
  KINDS.find((k) => k.endings.includes(endingOf(name)));

/** Endings of pictures that can be built on: as pixels, or drawings that become pixels or curves. */
const PICTURE_ENDINGS = ['png', 'jpg', 'jpeg', 'webp', 'tif', 'tiff', 'pdf', 'svg'];
const BESIDE_ENDINGS = ['mtl', 'bin', 'zip', 'raw', 'r16'];
const accept = (endings: readonly string[]): string => endings.map((e) => `.${e}`).join();

/** For file pickers: pictures alone, and everything that can be brought in. */
export const ACCEPT_PICTURES = accept(PICTURE_ENDINGS);
export const ACCEPT_MODELS = accept([
  ...new Set([...KINDS.flatMap((k) => k.endings), ...BESIDE_ENDINGS, ...PICTURE_ENDINGS]),
]);
/** "OBJ, GLB or STL", for sentences. */
export const kindTitles = (): string =>
  KINDS.map((k) => k.title)
    .join(', ')
    .replace(/, ([^,]*)$/, ' or $1');
