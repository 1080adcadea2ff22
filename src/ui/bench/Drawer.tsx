'use client';
import { IconX } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { ItemPicture, narrowed, Narrowing, useLibrary, type Narrow } from '../library/Library';
import { insertItem, keepPicked, onKept } from './library';
import { bench, useBench } from './store';

/** The library beside the view: drag an item into it, or press Enter on one. */
export function Drawer() {
  const { items, error, load } = useLibrary();
  const [narrow, setNarrow] = useState<Narrow>({ find: '', kind: null, tag: null });
  const picked = useBench((s) => s.picked.length);
  useEffect(() => {
    onKept(() => void load());
    return () => onKept(() => undefined);
  }, [load]);
  const shown = narrowed(items ?? [], narrow);
  return (
    <aside aria-label="Library drawer" className="flex w-[230px] shrink-0 flex-col border-r border-line">
      <div className="row px-3 pt-2.5">
        <h2 className="panel-title">Library</h2>
        <span className="flex items-center gap-1">
          <a className="quiet hover:text-ink" href="/library">
            all
          </a>
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="Close the library drawer"
            onClick={() => bench.set({ drawer: false })}
          >
            <IconX size={14} stroke={1.6} />
          </button>
        </span>
      </div>
      <div className="px-3 pb-2">
        <Narrowing items={items ?? []} value={narrow} onChange={setNarrow} />
      </div>
      <ul
        className="scroll-thin grid min-h-0 flex-1 auto-rows-max grid-cols-2 gap-2 overflow-y-auto px-3 pb-2"
        aria-label="Library items"
      >
        {shown.map((i) => (
          <li
            key={i.id}
            draggable
            tabIndex={0}
            title={`${i.name}: drag it into the view, or double click`}
            className="cursor-grab overflow-hidden rounded-lg border border-line bg-paper"
            onDragStart={(e) => e.dataTransfer.setData('glypta/item', i.id)}
            onDoubleClick={() => void insertItem(i.id)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') {
                e.stopPropagation();
                void insertItem(i.id);
              }
            }}
          >
            <ItemPicture item={i} />
            <div className="truncate px-1.5 py-1 text-[11px]">{i.name}</div>
          </li>
        ))}
      </ul>
      {error && (
        <p role="alert" className="px-3 pb-2 text-wrong">
          {error}
        </p>
      )}
      {items !== undefined && shown.length === 0 && (
        <p className="quiet px-3 pb-2">{items.length ? 'Nothing here is called that.' : 'Nothing kept yet.'}</p>
      )}
      <button
        className="btn btn-sm font-normal m-3 mt-0 justify-center !py-1"
        disabled={picked === 0}
        onClick={() => void keepPicked()}
      >
        Keep {picked > 1 ? `${picked} pieces` : 'the piece'} in the library
      </button>
    </aside>
  );
}
