'use client';
import { IconFileImport, IconPlus, IconTrash } from '@tabler/icons-react';
import dynamic from 'next/dynamic';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ShelfEntry } from '../parts/api';
import { useFileDrop } from '../parts/fileDrop';
import { PlaceHead } from '../parts/Place';
import { Query } from '../parts/Query';
import { importProject, takeDropped, useAct, useProjects } from './data';
import { ProjectCard } from './ProjectCard';

/** Not part of the first load, but here before anyone presses the button. */
const newProject = () => import('./NewProject').then((m) => m.NewProject);
const NewProject = dynamic(newProject, { ssr: false });

const SORTS: readonly (readonly [string, string, (a: ShelfEntry, b: ShelfEntry) => number])[] = [
  ['last', 'Last changed first', (a, b) => b.changedAt.localeCompare(a.changedAt)],
  ['name', 'By name', (a, b) => a.name.localeCompare(b.name)],
  ['most', 'Most worked on first', (a, b) => b.revision - a.revision],
];

/** The shelf: all projects, with pictures of their models. */
export const Shelf = () => (
  <Query>
    <Projects />
  </Query>
);

function Projects() {
  const router = useRouter();
  const { data: projects, error: unread, refetch } = useProjects();
  const act = useAct();
  const [search, setSearch] = useState('');
  const [sort, setSort] = useState(SORTS[0][0]);
  const [bin, setBin] = useState(false);
  const [asking, setAsking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const soon = setTimeout(newProject, 300);
    return () => clearTimeout(soon);
  }, []);
  const shown = useMemo(() => {
    const words = search.trim().toLowerCase();
    const order = SORTS.find((s) => s[0] === sort)![2];
    return (projects ?? []).filter((p) => !!p.binnedAt === bin && p.name.toLowerCase().includes(words)).sort(order);
  }, [projects, search, sort, bin]);
  const binned = (projects ?? []).filter((p) => p.binnedAt).length;
  const drop = useFileDrop((files) =>
    act.mutate(async () => {
      const begun = await takeDropped(files);
      if (begun) router.push(`/bench/${begun}`);
    }),
  );
  const error = act.error ?? unread;
  return (
    <div className="flex h-screen flex-col" {...drop.listens}>
      <PlaceHead here="/" find="Find a project" text={search} onText={setSearch} />
      <main className="scroll-thin flex-1 overflow-y-auto bg-bench px-8 py-6">
        <div className="mx-auto max-w-[1280px]">
          <div className="mb-5 flex items-center gap-2">
            <h1 className="font-serif text-2xl">{bin ? 'The bin' : 'Projects'}</h1>
            <span className="flex-1" />
            <select
              className="select select-sm w-44"
              aria-label="Order"
              value={sort}
              onChange={(e) => setSort(e.target.value)}
            >
              {SORTS.map(([id, title]) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
            <button className="btn btn-sm" onClick={() => setBin(!bin)}>
              {!bin && <IconTrash size={15} stroke={1.6} />}
              {bin ? 'Back to the projects' : `Bin${binned ? ` · ${binned}` : ''}`}
            </button>
            <button className="btn btn-sm" onClick={() => file.current?.click()}>
              <IconFileImport size={15} stroke={1.6} />
              Import a project
            </button>
            <input
              ref={file}
              type="file"
              accept=".zip,.json,application/zip,application/json"
              hidden
              aria-label="Project file"
              onChange={(e) => {
                const chosen = e.target.files?.[0];
                e.target.value = '';
                if (chosen) act.mutate(() => importProject(chosen));
              }}
            />
            <button className="btn btn-sm btn-primary" onClick={() => setAsking(true)}>
              <IconPlus size={15} stroke={1.8} />
              New project
            </button>
          </div>
          {error && (
            <p role="alert" className="alert alert-error alert-soft mb-4 py-2">
              <span className="flex-1">{error.message}</span>
              <button className="btn btn-xs" onClick={() => (act.error ? act.reset() : void refetch())}>
                {act.error ? 'Close' : 'Try again'}
              </button>
            </p>
          )}
          {!projects && !error && (
            <p className="quiet flex items-center gap-2">
              <span className="loading loading-spinner loading-xs" />
              Looking for projects …
            </p>
          )}
          {projects && shown.length === 0 && <Empty search={search} bin={bin} />}
          <ul
            className="grid grid-cols-[repeat(auto-fill,minmax(290px,1fr))] gap-5"
            aria-label={bin ? 'Projects in the bin' : 'Projects'}
          >
            {shown.map((p) => (
              <ProjectCard key={p.id} project={p} act={act.mutate} />
            ))}
          </ul>
        </div>
      </main>
      {drop.hovering && (
        <div className="pointer-events-none fixed inset-3 grid place-items-center rounded-xl border-2 border-dashed border-value bg-wash/70 text-lg">
          Drop to begin a project from it
        </div>
      )}
      {asking && <NewProject close={() => setAsking(false)} />}
    </div>
  );
}

function Empty({ search, bin }: { search: string; bin: boolean }) {
  let text = 'The shelf is empty. Begin with New project, or drop a model, a drawing or an exported project here.';
  if (bin) text = 'The bin is empty.';
  if (search) text = `No project is called “${search}”.`;
  return <p className="quiet py-16 text-center">{text}</p>;
}
