'use client';
import {
  IconCopy,
  IconDotsVertical,
  IconDownload,
  IconFileImport,
  IconMoon,
  IconPlus,
  IconRestore,
  IconSearch,
  IconSun,
  IconTrash,
} from '@tabler/icons-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type ShelfEntry } from '../parts/api';
import { Dialog } from '../parts/Dialog';
import { Mark } from '../parts/Mark';
import { toggleTheme, useTheme } from '../parts/theme';

const PURPOSES: [string, string][] = [
  ['render', 'to render'],
  ['game', 'for a game'],
  ['print', 'to print'],
];
const UNITS: [string, string][] = [
  ['mm', 'millimetres'],
  ['cm', 'centimetres'],
  ['m', 'metres'],
  ['in', 'inches'],
  ['ft', 'feet'],
];

function ago(iso: string): string {
  const s = (Date.now() - Date.parse(iso)) / 1000;
  if (s < 90) return 'just now';
  if (s < 5400) return `${Math.round(s / 60)} minutes ago`;
  if (s < 129600) return `${Math.round(s / 3600)} hours ago`;
  return new Date(iso).toLocaleDateString(undefined, { day: 'numeric', month: 'long', year: 'numeric' });
}

/** The shelf: all projects, with pictures of their models. */
export function Shelf() {
  const [projects, setProjects] = useState<ShelfEntry[]>();
  const [error, setError] = useState('');
  const [search, setSearch] = useState('');
  const [bin, setBin] = useState(false);
  const [asking, setAsking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const theme = useTheme();

  const load = useCallback(async () => {
    try {
      setProjects((await api<{ projects: ShelfEntry[] }>('/api/projects')).projects);
    } catch (e) {
      setError((e as Error).message);
    }
  }, []);
  useEffect(() => {
    void load();
  }, [load]);

  const act = async (work: () => Promise<unknown>) => {
    setError('');
    try {
      await work();
    } catch (e) {
      setError((e as Error).message);
    }
    await load();
  };

  const importFile = async (f: File | undefined) => {
    if (!f) return;
    await act(async () => {
      if (f.size > 512 * 1048576) throw new Error(`${f.name} is larger than 512 MB, the most that can be brought in.`);
      await api('/api/projects/import', { body: f, headers: { 'Content-Type': 'application/octet-stream' } }).catch(
        (e: Error) => {
          throw new Error(`${f.name}: ${e.message}`);
        },
      );
    });
  };

  const shown = (projects ?? []).filter(
    (p) => !!p.binnedAt === bin && p.name.toLowerCase().includes(search.trim().toLowerCase()),
  );
  const binned = (projects ?? []).filter((p) => p.binnedAt).length;
  return (
    <div className="flex h-screen flex-col">
      <header className="flex h-[48px] shrink-0 items-center gap-3 border-b border-line px-4">
        <Mark />
        <span className="font-serif text-[19px] font-semibold">Glypta</span>
        <nav aria-label="Places" className="ml-2 flex gap-3">
          <span aria-current="page" className="font-semibold">
            The shelf
          </span>
          <a className="quiet hover:text-ink" href="/library">
            The library
          </a>
        </nav>
        <span className="flex-1" />
        <label className="field flex w-64 items-center gap-2">
          <IconSearch size={15} stroke={1.6} aria-hidden />
          <input
            className="w-full bg-transparent outline-none"
            placeholder="Find a project"
            aria-label="Find a project"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </label>
        <button
          className="icon-button"
          aria-label={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
          title={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
          onClick={toggleTheme}
        >
          {theme === 'plaster' ? <IconMoon size={17} stroke={1.6} /> : <IconSun size={17} stroke={1.6} />}
        </button>
      </header>
      <main className="scroll-thin flex-1 overflow-y-auto bg-bench px-8 py-6">
        <div className="mx-auto max-w-[1200px]">
          <div className="mb-5 flex items-center gap-3">
            <h1 className="font-serif text-2xl">{bin ? 'The bin' : 'Projects'}</h1>
            <span className="flex-1" />
            <button className="button" onClick={() => setBin(!bin)}>
              {bin ? (
                'Back to the projects'
              ) : (
                <>
                  <IconTrash size={15} stroke={1.6} />
                  Bin{binned ? ` · ${binned}` : ''}
                </>
              )}
            </button>
            <button className="button" onClick={() => file.current?.click()}>
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
                void importFile(e.target.files?.[0]);
                e.target.value = '';
              }}
            />
            <button className="button main" onClick={() => setAsking(true)}>
              <IconPlus size={15} stroke={1.8} />
              New project
            </button>
          </div>
          {error && (
            <p role="alert" className="mb-4 rounded-lg border border-wrong px-3 py-2 text-wrong">
              {error}{' '}
              <button
                className="underline"
                onClick={() => {
                  setError('');
                  void load();
                }}
              >
                {projects ? 'Close' : 'Try again'}
              </button>
            </p>
          )}
          {projects === undefined && !error && <p className="quiet">Looking for projects …</p>}
          {projects !== undefined && shown.length === 0 && (
            <p className="quiet py-16 text-center">
              {search
                ? `No project is called “${search}”.`
                : bin
                  ? 'The bin is empty.'
                  : 'The shelf is empty. Begin with New project, or import one.'}
            </p>
          )}
          <ul
            className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-5"
            aria-label={bin ? 'Projects in the bin' : 'Projects'}
          >
            {shown.map((p) => (
              <Card key={p.id} project={p} act={act} />
            ))}
          </ul>
        </div>
      </main>
      <NewProject open={asking} onClose={() => setAsking(false)} onError={setError} />
    </div>
  );
}

function Card({ project: p, act }: { project: ShelfEntry; act: (work: () => Promise<unknown>) => Promise<void> }) {
  const [menu, setMenu] = useState(false);
  const picture = (
    <img
      src={`/api/projects/${p.id}/thumbnail?r=${p.revision}`}
      alt=""
      width={480}
      height={320}
      loading="lazy"
      className="aspect-[3/2] w-full object-cover"
      style={{ background: 'linear-gradient(var(--view-top), var(--view-bottom))' }}
    />
  );
  const text = (
    <div className="px-3.5 py-2.5">
      <div className="truncate text-[14px] font-semibold">{p.name}</div>
      <div className="quiet mt-0.5 flex justify-between">
        <span>
          {PURPOSES.find((x) => x[0] === p.purpose)?.[1]} · {p.units}
        </span>
        <span>{ago(p.changedAt)}</span>
      </div>
    </div>
  );
  return (
    <li
      className="relative overflow-hidden rounded-xl border border-line bg-paper"
      onKeyDown={(e) => {
        if (e.key === 'Escape') setMenu(false);
      }}
    >
      {p.binnedAt ? (
        <div className="opacity-70">
          {picture}
          {text}
        </div>
      ) : (
        <a href={`/bench/${p.id}`} aria-label={`Open ${p.name}`} className="block">
          {picture}
          {text}
        </a>
      )}
      <button
        className="icon-button absolute right-2 top-2 !bg-paper"
        aria-label={`Actions for ${p.name}`}
        aria-expanded={menu}
        onClick={() => setMenu(!menu)}
      >
        <IconDotsVertical size={16} stroke={1.6} />
      </button>
      {menu && (
        <div
          role="menu"
          className="absolute right-2 top-9 z-10 w-44 rounded-lg border border-line bg-paper py-1 shadow-lg"
          onBlur={(e) => {
            if (!e.currentTarget.contains(e.relatedTarget)) setMenu(false);
          }}
        >
          {p.binnedAt ? (
            <>
              <Item
                icon={<IconRestore size={15} stroke={1.6} />}
                label="Restore"
                onClick={() => {
                  setMenu(false);
                  void act(() => api(`/api/projects/${p.id}/bin`, { method: 'DELETE' }));
                }}
              />
              <Item
                icon={<IconTrash size={15} stroke={1.6} />}
                label="Remove for good"
                onClick={() => {
                  setMenu(false);
                  void act(() => api(`/api/projects/${p.id}`, { method: 'DELETE' }));
                }}
              />
            </>
          ) : (
            <>
              <Item
                icon={<IconCopy size={15} stroke={1.6} />}
                label="Make a copy"
                onClick={() => {
                  setMenu(false);
                  void act(() => api(`/api/projects/${p.id}/copy`, { json: {} }));
                }}
              />
              <a
                role="menuitem"
                className="flex items-center gap-2 px-3 py-1.5 hover:bg-wash"
                href={`/api/projects/${p.id}/export`}
                download
                onClick={() => setMenu(false)}
              >
                <IconDownload size={15} stroke={1.6} />
                Export
              </a>
              <Item
                icon={<IconTrash size={15} stroke={1.6} />}
                label="Put in the bin"
                onClick={() => {
                  setMenu(false);
                  void act(() => api(`/api/projects/${p.id}/bin`, { method: 'POST' }));
                }}
              />
            </>
          )}
        </div>
      )}
    </li>
  );
}

const Item = ({ icon, label, onClick }: { icon: React.ReactNode; label: string; onClick: () => void }) => (
  <button
    role="menuitem"
    className="flex w-full items-center gap-2 px-3 py-1.5 text-left hover:bg-wash"
    onClick={onClick}
  >
    {icon}
    {label}
  </button>
);

function NewProject({ open, onClose, onError }: { open: boolean; onClose: () => void; onError: (e: string) => void }) {
  const [name, setName] = useState(''),
    [purpose, setPurpose] = useState('render'),
    [units, setUnits] = useState('mm'),
    [busy, setBusy] = useState(false);
  const make = async () => {
    setBusy(true);
    try {
      location.href = `/bench/${(await api<ShelfEntry>('/api/projects', { json: { name: name.trim(), purpose, units } })).id}`;
    } catch (failure) {
      onError((failure as Error).message);
      onClose();
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title="New project" open={open} onClose={onClose}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) void make();
        }}
        className="flex flex-col gap-3"
      >
        <label className="flex flex-col gap-1">
          <span className="quiet">Name</span>
          <input autoFocus className="field" maxLength={200} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <label className="flex flex-col gap-1">
          <span className="quiet">It is made</span>
          <select className="field" value={purpose} onChange={(e) => setPurpose(e.target.value)}>
            {PURPOSES.map(([v, t]) => (
              <option key={v} value={v}>
                {t}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-1">
          <span className="quiet">Measured in</span>
          <select className="field" value={units} onChange={(e) => setUnits(e.target.value)}>
            {UNITS.map(([v, t]) => (
              <option key={v} value={v}>
                {t}
              </option>
            ))}
          </select>
        </label>
        <div className="mt-2 flex justify-end gap-2">
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
          <button className="button main" disabled={!name.trim() || busy}>
            Begin
          </button>
        </div>
      </form>
    </Dialog>
  );
}
