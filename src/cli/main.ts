/** The command line. Each verb is loaded only when called, so that the light ones start at once. */
import { Usage } from './usage';

const HELP = `Glypta

  ./glypta start [--port N] [--data DIR] [--host NAME,…] [--no-demo]   set up what is missing and open the bench on this machine
  ./glypta test [--thorough]                           types, lint, unit and browser tests; with all long sweeps
  ./glypta licences [--write]                          packages as locked, and their licences
  ./glypta bench [--only NAME] [--json]                measure, beside peers
  ./glypta inspect FILE [--json]                       counts, sizes, shape and UV figures of a model
  ./glypta convert IN OUT [--text]                     between GLB, glTF, 3MF, PLY, STL, SVG, OBJ and ZIP; height pictures between PNG, TIFF and raw
  ./glypta unfold IN… OUT [--stretch 1.3] [--mean 1.01] [--islands N] [--fill 0..1] [--hide 0..1] [--straight 0..1]
                  [--seam-angle DEG] [--one-sided] [--size PX] [--padding PX] [--sheets N] [--density N] [--pixels] [--together material|set|part]
                  [--one-sheet] [--set NAME] [--leave-pictures] [--drawing svg|png] [--jobs N] [--json]
  ./glypta tool [ID IN OUT] [--pick WHICH] [--VALUE …]   any tool of the bench on a file; alone, the list of them
  ./glypta edit FILE --moves MOVES.json OUT             moves one after another, as shape by hand makes them
  ./glypta check FILE [--for render|game|print] [--json]  what may be wrong with a model; ends with 1 where something is
  ./glypta make PROJECT --out DIR --formats glb,obj [--set 'storeys=12' …] [--sweep 'storeys=3..12/4' …]   all pieces, by the dials as they are or as set
  ./glypta tell PROJECT [--piece NAME]                  its recipes as sentences
  ./glypta worker [--database URL] [--processes N] [--seconds N]   draw pictures for a server that runs elsewhere
  ./glypta tidy [--data DIR | --database URL] [--days N]   take away files that nothing refers to
  ./glypta backup FILE [--data DIR | --database URL]   all projects and the library in one file, while the bench is in use
  ./glypta restore FILE [--data DIR | --database URL]  put them into a folder or a database that holds none, and check them

  start --database URL [--connections N] uses a PostgreSQL that exists; --behind-proxy believes what a proxy says of hosts;
  --log LEVEL (debug, info, warn, error) says how much is logged.

A FILE of - is standard input or output.`;

const verbs: Record<string, () => Promise<{ run(args: string[]): Promise<number> }>> = {
  start: () => import('./start'),
  test: () => import('./test'),
  bench: () => import('./bench'),
  inspect: () => import('./inspect'),
  convert: () => import('./convert'),
  unfold: () => import('./unfold'),
  make: () => import('./make'),
  tell: () => import('./tell'),
  tool: () => import('./tool'),
  edit: () => import('./edit'),
  check: () => import('./check'),
  worker: () => import('./worker'),
  licences: () => import('./licences'),
  tidy: () => import('./tidy'),
  backup: () => import('./backup'),
  restore: () => import('./restore'),
  draw: () => import('./draw'),
};

async function main(): Promise<number> {
  const [verb = 'help', ...args] = process.argv.slice(2);
  if (verb === 'help' || verb === '--help' || verb === '-h') {
    console.log(HELP);
    return 0;
  }
  const load = verbs[verb];
  if (!load) {
    console.error(`There is no “${verb}”. ./glypta help lists what there is.`);
    return 2;
  }
  try {
    return await (await load()).run(args);
  } catch (e) {
    const known =
      e instanceof Error && ['Usage', 'FileError', 'InvalidDocument', 'SetupError'].includes(e.constructor.name);
    console.error(known ? (e as Error).message : `Something went wrong that was not foreseen, in ${verb}.`);
    if (!known && process.env.GLYPTA_DEBUG) console.error(e);
    return e instanceof Usage ? 2 : 1;
  }
}

process.stdout.on('error', (e: NodeJS.ErrnoException) => {
  if (e.code === 'EPIPE') process.exit(0);
});
process.exitCode = await main();
