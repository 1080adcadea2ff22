'use client';
import { IconMoon, IconSearch, IconSun, IconTrash } from '@tabler/icons-react';
import { useCallback, useEffect, useState } from 'react';
import { LIBRARY_KINDS, type LibraryEntry, type LibraryKind } from '../../document/library';
import { api } from '../parts/api';
import { Mark } from '../parts/Mark';
import { toggleTheme, useTheme } from '../parts/theme';

/** What is kept, and ways to narrow it down. Shared by the screen and the drawer. */
export function useLibrary(): {
  items: LibraryEntry[] | undefined;
  error: string;
  load: () => Promise<void>;
  act: (work: () => Promise<unknown>) => Promise<void>;
} {
  const [items, setItems] = useState<LibraryEntry[]>();
  const [error, setError] = useState('');
  const load = useCallback(async () => {
    try {
      setItems((await api<{ items: LibraryEntry[] }>('/api/library')).items);
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
  return { items, error, load, act };
}

export interface Narrow {
  find: string;
  kind: LibraryKind | null;
  tag: string | null;
}

export function narrowed(items: readonly LibraryEntry[], n: Narrow): LibraryEntry[] {
  const words = n.find.trim().toLowerCase().split(/\s+/).filter(Boolean);
  return items.filter(
    (i) =>
      (n.kind === null || i.kind === n.kind) &&
      (n.tag === null || i.tags.includes(n.tag)) &&
      words.every((w) => i.name.toLowerCase().includes(w) || i.tags.some((t) => t.includes(w))),
  );
}

export function Narrowing({
  items,
  value,
  onChange,
}: {
  items: readonly LibraryEntry[];
  value: Narrow;
  onChange: (n: Narrow) => void;
}) {
  const tags = [...new Set(items.flatMap((i) => i.tags))].sort();
  const chip = (on: boolean, label: string, click: () => void) => (
    <button
      key={label}
      aria-pressed={on}
      className={`btn btn-sm font-normal !rounded-full !px-2.5 !py-0.5 text-[12px] ${on ? '!border-value !bg-wash' : ''}`}
      onClick={click}
    >
      {label}
    </button>
  );
  return (
    <>
      <label className="input input-sm w-full">
        <IconSearch size={14} stroke={1.6} aria-hidden />
        <input
          placeholder="Find by name or tag"
          aria-label="Find in the library"
          value={value.find}
          onKeyDown={(key) => key.stopPropagation()}
          onChange={(typed) => onChange({ ...value, find: typed.target.value })}
        />
      </label>
      <div className="mt-2 flex flex-wrap gap-1" role="group" aria-label="Kinds">
        {LIBRARY_KINDS.map(([k, label]) =>
          chip(value.kind === k, label, () => onChange({ ...value, kind: value.kind === k ? null : k })),
        )}
      </div>
      {tags.length > 0 && (
        <div className="mt-1.5 flex flex-wrap gap-1" role="group" aria-label="Tags">
          {tags
            .slice(0, 24)
            .map((t) => chip(value.tag === t, `#${t}`, () => onChange({ ...value, tag: value.tag === t ? null : t })))}
        </div>
      )}
    </>
  );
}

export const ItemPicture = ({ item }: { item: LibraryEntry }) => (
  <img
    src={`/api/library/${item.id}/thumbnail?at=${item.changedAt}`}
    alt=""
    draggable={false}
    loading="lazy"
    className="aspect-[3/2] w-full object-cover"
    style={{ background: 'linear-gradient(var(--view-top), var(--view-bottom))' }}
  />
);

/** The library, a screen of its own: everything that is kept for use in any project. */
export function LibraryScreen() {
  const { items, error, act } = useLibrary();
  const [narrow, setNarrow] = useState<Narrow>({ find: '', kind: null, tag: null });
  const theme = useTheme();
  const shown = narrowed(items ?? [], narrow);
  useEffect(() => {
    document.title = 'Library · Glypta';
  }, []);
  return (
    <div className="flex h-screen flex-col">
      <header className="flex h-[48px] shrink-0 items-center gap-3 border-b border-line px-4">
        <a href="/" aria-label="Glypta, back to the shelf" className="flex items-center gap-2.5">
          <Mark />
          <span className="font-serif text-[19px] font-semibold">Glypta</span>
        </a>
        <nav aria-label="Places" className="ml-2 flex gap-3">
          <a className="quiet hover:text-ink" href="/">
            The shelf
          </a>
          <span aria-current="page" className="font-semibold">
            The library
          </span>
        </nav>
        <span className="flex-1" />
        <button
          className="btn btn-ghost btn-square icon-btn"
          aria-label={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
          title={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
          onClick={toggleTheme}
        >
          {theme === 'plaster' ? <IconMoon size={17} stroke={1.6} /> : <IconSun size={17} stroke={1.6} />}
        </button>
      </header>
      <div className="flex min-h-0 flex-1">
        <aside
          aria-label="Narrow down"
          className="scroll-thin w-[250px] shrink-0 overflow-y-auto border-r border-line p-4"
        >
          <h1 className="mb-3 font-serif text-2xl">Library</h1>
          <Narrowing items={items ?? []} value={narrow} onChange={setNarrow} />
          <p className="quiet mt-4">
            Things kept for use again: on the bench, pick something and choose “Keep in the library”. From here they go
            into any project by the drawer on the bench.
          </p>
        </aside>
        <main className="scroll-thin flex-1 overflow-y-auto bg-bench px-8 py-6">
          {error && (
            <p role="alert" className="mb-4 rounded-lg border border-wrong px-3 py-2 text-wrong">
              {error}
            </p>
          )}
          {items === undefined && !error && <p className="quiet">Looking …</p>}
          {items !== undefined && shown.length === 0 && (
            <p className="quiet py-16 text-center">
              {items.length
                ? 'Nothing here is called that.'
                : 'The library is empty. On the bench, pick a piece and choose “Keep in the library”.'}
            </p>
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-4" aria-label="Library items">
            {shown.map((i) => (
              <Card key={i.id} item={i} act={act} />
            ))}
          </ul>
        </main>
      </div>
    </div>
  );
}

function Card({ item, act }: { item: LibraryEntry; act: (work: () => Promise<unknown>) => Promise<void> }) {
  const save = (part: { name?: string; tags?: string[] }) =>
    void act(() => api(`/api/library/${item.id}`, { method: 'PATCH', json: part }));
  return (
    <li className="overflow-hidden rounded-xl border border-line bg-paper" aria-label={item.name}>
      <ItemPicture item={item} />
      <div className="px-3 py-2">
        <input
          key={item.name}
          className="min-h-[24px] w-full bg-transparent font-semibold outline-none focus:border-b focus:border-value"
          aria-label={`Name of ${item.name}`}
          defaultValue={item.name}
          maxLength={200}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
          }}
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name && name !== item.name) save({ name });
          }}
        />
        <input
          key={item.tags.join()}
          className="quiet min-h-[24px] w-full bg-transparent text-[12px] outline-none focus:border-b focus:border-value"
          aria-label={`Tags of ${item.name}`}
          placeholder="tags, with commas"
          defaultValue={item.tags.join(', ')}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
          }}
          onBlur={(e) => {
            if (e.target.value !== item.tags.join(', ')) save({ tags: e.target.value.split(',') });
          }}
        />
        <div className="row">
          <span className="quiet text-[12px]">
            {LIBRARY_KINDS.find((k) => k[0] === item.kind)![1]
              .replace(/s$/, '')
              .toLowerCase()}
            {item.usedIn ? ` · used in ${item.usedIn} ${item.usedIn === 1 ? 'project' : 'projects'}` : ''}
          </span>
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label={`Remove ${item.name}`}
            title={item.usedIn ? 'It is in use, so it stays' : 'Remove'}
            disabled={item.usedIn > 0}
            onClick={() => void act(() => api(`/api/library/${item.id}`, { method: 'DELETE' }))}
          >
            <IconTrash size={14} stroke={1.6} />
          </button>
        </div>
      </div>
    </li>
  );
}
