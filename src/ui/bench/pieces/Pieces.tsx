'use client';
import {
  IconChevronDown,
  IconChevronRight,
  IconCircle,
  IconEye,
  IconEyeOff,
  IconFileImport,
  IconFolder,
  IconGhost2,
  IconLink,
  IconLock,
  IconLockOpen,
  IconPhoto,
  IconPlus,
  IconSearch,
  IconSquare,
  IconVectorBezier2,
} from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useDeferredValue, useMemo, useRef, useState } from 'react';
import { KINDS } from '../../../core/formats/kinds';
import { stepDefs } from '../../../core/recipe/registry';
import * as changes from '../../../document/changes';
import { addPiece } from '../actions';
import { importFiles } from '../gather/arrivals';
import { pickPieces } from '../pieceActions';
import { session } from '../session';
import { bench, useBench } from '../store';
import { between, heldBy, rowsOf, type Held, type Row } from './rows';

const ACCEPT = [
  ...KINDS.flatMap((k) => k.endings.map((e) => `.${e}`)),
  '.mtl',
  '.bin',
  '.zip',
  '.png',
  '.jpg',
  '.jpeg',
  '.webp',
  '.tif',
  '.tiff',
  '.pdf',
  '.raw',
  '.r16',
].join();
const NONE: readonly never[] = [];

/** The tree of pieces. */
export function Pieces() {
  const pieces = useBench((s) => s.document?.pieces ?? NONE),
    picked = useBench((s) => s.picked),
    worked = useBench((s) => s.piece),
    shown = useBench((s) => s.shown);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set()),
    [menu, setMenu] = useState(false),
    [finding, setFinding] = useState(false),
    [find, setFind] = useState('');
  const list = useRef<HTMLDivElement>(null),
    file = useRef<HTMLInputElement>(null),
    sought = useDeferredValue(find);
  const rows = useMemo(() => rowsOf(pieces, closed, sought), [pieces, closed, sought]);
  const held = useMemo(() => heldBy(pieces, (id) => shown.get(id)?.buffers?.triangles ?? 0), [pieces, shown]);
  const chosen = useMemo(() => new Set(picked), [picked]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => 26,
    overscan: 6,
    useFlushSync: false,
  });
  const meshes = useMemo(() => pieces.filter((p) => p.kind === 'mesh').length, [pieces]),
    triangles = useMemo(
      () =>
        pieces.reduce(
          (n, p) => n + (p.kind === 'mesh' && p.visible ? (shown.get(p.link ?? p.id)?.buffers?.triangles ?? 0) : 0),
          0,
        ),
      [pieces, shown],
    );
  const step = (by: number, more: boolean) => {
    const i = rows.findIndex((r) => r.piece.id === worked),
      next = rows[Math.max(0, Math.min(rows.length - 1, i + by))];
    if (next) {
      pickPieces([next.piece.id], more ? 'add' : 'set');
      virtual.scrollToIndex(rows.indexOf(next));
    }
  };
  const [ways] = useState(() => ({
    toggle: (id: string) =>
      setClosed((c) => {
        const n = new Set(c);
        if (!n.delete(id)) n.add(id);
        return n;
      }),
  }));
  const rowsNow = useRef(rows);
  rowsNow.current = rows;
  const [pickRow] = useState(
    () => (id: string, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) =>
      pickPieces(
        e.shiftKey ? between(rowsNow.current, bench.get().piece, id) : [id],
        e.shiftKey ? 'add' : e.ctrlKey || e.metaKey ? 'toggle' : 'set',
      ),
  );
  return (
    <section aria-label="Pieces" className="flex min-h-0 flex-col border-b border-line" style={{ maxHeight: '48%' }}>
      <div className="row px-3.5 pt-2.5">
        <h2 className="panel-title">Pieces</h2>
        <span className="quiet flex items-center gap-1">
          {meshes.toLocaleString('en')} · {triangles.toLocaleString('en')} tris
          <button
            className="icon-button"
            aria-label="Find a piece"
            title="Find a piece"
            aria-pressed={finding}
            onClick={() => {
              setFinding(!finding);
              setFind('');
            }}
          >
            <IconSearch size={14} stroke={1.6} />
          </button>
          <span className="relative">
            <button
              className="icon-button"
              aria-label="New piece"
              title="New piece"
              aria-expanded={menu}
              onClick={() => setMenu(!menu)}
            >
              <IconPlus size={15} stroke={1.6} />
            </button>
            {menu && (
              <div
                role="menu"
                className="absolute right-0 top-6 z-30 w-44 rounded-lg border border-line bg-paper py-1 text-ink shadow-lg"
                onBlur={(e) => {
                  if (!e.currentTarget.contains(e.relatedTarget)) setMenu(false);
                }}
                ref={(el) => {
                  if (el && !el.contains(document.activeElement)) el.querySelector('button')?.focus();
                }}
              >
                {stepDefs()
                  .filter((d) => d.takes === 'nothing' && !d.hidden)
                  .map((d) => (
                    <button
                      key={d.kind}
                      role="menuitem"
                      className="block w-full px-3 py-1 text-left capitalize hover:bg-wash"
                      onClick={() => {
                        setMenu(false);
                        addPiece(d.kind);
                      }}
                    >
                      {d.kind}
                    </button>
                  ))}
                <button
                  role="menuitem"
                  className="block w-full px-3 py-1 text-left hover:bg-wash"
                  onClick={() => {
                    setMenu(false);
                    session.change('add a group', (d) => changes.addGroup(d, changes.newId(), 'group'));
                  }}
                >
                  Group
                </button>
                <button
                  role="menuitem"
                  className="flex w-full items-center gap-1.5 px-3 py-1 text-left hover:bg-wash"
                  onClick={() => {
                    setMenu(false);
                    file.current?.click();
                  }}
                >
                  <IconFileImport size={14} stroke={1.6} />
                  From a file …
                </button>
              </div>
            )}
            <input
              ref={file}
              type="file"
              multiple
              hidden
              accept={ACCEPT}
              aria-label="Model file"
              onChange={(e) => {
                void importFiles([...(e.target.files ?? [])]);
                e.target.value = '';
              }}
            />
          </span>
        </span>
      </div>
      {finding && (
        <div className="px-3.5 pb-1.5">
          <input
            autoFocus
            className="field w-full !py-1"
            placeholder="Part of a name"
            aria-label="Find a piece by name"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Escape') {
                setFinding(false);
                setFind('');
              }
              if (e.key === 'Enter') {
                const hits = rows.filter((r) => r.piece.name.toLowerCase().includes(find.trim().toLowerCase()));
                if (hits.length) pickPieces(hits.map((r) => r.piece.id));
              }
            }}
          />
        </div>
      )}
      <div
        ref={list}
        role="tree"
        aria-label="Pieces"
        aria-multiselectable
        tabIndex={0}
        className="scroll-thin min-h-0 flex-1 overflow-y-auto px-2 pb-2"
        onDragOver={(e) => {
          if (e.dataTransfer.types.includes('glypta/piece')) e.preventDefault();
        }}
        onDrop={(e) => drop(e, null, null)}
        onKeyDown={(e) => {
          if (e.target !== e.currentTarget) return;
          if (e.key === 'ArrowDown') {
            step(1, e.shiftKey);
            e.preventDefault();
            e.stopPropagation();
          }
          if (e.key === 'ArrowUp') {
            step(-1, e.shiftKey);
            e.preventDefault();
            e.stopPropagation();
          }
          if (e.key === 'F2')
            document
              .querySelector<HTMLElement>('[data-rename]')
              ?.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
          if (
            (e.key === 'ArrowLeft' || e.key === 'ArrowRight') &&
            worked &&
            closed.has(worked) === (e.key === 'ArrowRight')
          ) {
            ways.toggle(worked);
            e.stopPropagation();
          }
        }}
      >
        {rows.length === 0 && (
          <p className="quiet px-1.5 py-2">
            {find.trim()
              ? `No piece is called “${find.trim()}”.`
              : 'No pieces yet. Add one with +, or drop models, drawings and pictures on the bench.'}
          </p>
        )}
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((v) => {
            const r = rows[v.index],
              id = r.piece.id;
            return (
              <TreeRow
                key={id}
                piece={r.piece}
                depth={r.depth}
                open={r.open}
                top={v.start}
                picked={chosen.has(id)}
                worked={worked === id}
                held={held.get(id)}
                toggle={ways.toggle}
                pick={pickRow}
              />
            );
          })}
        </div>
      </div>
    </section>
  );
}

/** Dropped pieces go into a group, or before another piece. All that is picked goes, when what is dragged is picked. */
function drop(e: React.DragEvent, parent: string | null, before: string | null): void {
  const id = e.dataTransfer.getData('glypta/piece');
  if (!id) return;
  e.preventDefault();
  e.stopPropagation();
  const { picked } = bench.get(),
    ids = picked.includes(id) ? picked : [id];
  session.change(ids.length === 1 ? 'move a piece in the tree' : `move ${ids.length} pieces in the tree`, (d) =>
    changes.movePieces(d, ids, parent, before),
  );
}

const TreeRow = memo(function TreeRow({
  piece: p,
  depth,
  open,
  top,
  picked,
  worked,
  held,
  toggle,
  pick,
}: Omit<Row, 'piece'> & {
  piece: Row['piece'];
  top: number;
  picked: boolean;
  worked: boolean;
  held?: Held;
  toggle: (id: string) => void;
  pick: (id: string, e: React.MouseEvent) => void;
}) {
  // Buttons that only matter under the pointer or on the picked row are not made for all the others: scrolling past them stays light.
  const [naming, setNaming] = useState(false),
    [near, setNear] = useState(false),
    hot = near || worked,
    [over, setOver] = useState<'into' | 'before' | null>(null);
  const first = p.recipe[0]?.kind,
    Icon =
      p.kind === 'blueprint'
        ? IconPhoto
        : p.link
          ? IconLink
          : first === 'sphere' || first === 'cylinder'
            ? IconCircle
            : first === 'section'
              ? IconVectorBezier2
              : IconSquare;
  const zone = (e: React.DragEvent) => (p.kind === 'group' && e.nativeEvent.offsetY > 7 ? 'into' : 'before');
  const flag = (label: string, part: Parameters<typeof changes.setPiece>[2]) => (e: React.MouseEvent) => {
    e.stopPropagation();
    session.change(label, (d) => changes.setPiece(d, p.id, part));
  };
  return (
    <div
      role="treeitem"
      aria-selected={picked}
      aria-level={depth + 1}
      aria-expanded={p.kind === 'group' ? open : undefined}
      aria-label={p.name}
      draggable={!naming}
      onPointerEnter={() => setNear(true)}
      onPointerLeave={() => setNear(false)}
      onDragStart={(event) => event.dataTransfer.setData('glypta/piece', p.id)}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes('glypta/piece')) {
          event.preventDefault();
          event.stopPropagation();
          setOver(zone(event));
        }
      }}
      onDragLeave={() => setOver(null)}
      onDrop={(event) => {
        setOver(null);
        if (zone(event) === 'into') drop(event, p.id, null);
        else drop(event, p.parent, p.id);
      }}
      className={`group absolute left-0 flex h-[26px] w-full cursor-default items-center gap-1.5 rounded-md pr-1.5 ${over === 'into' ? 'outline outline-2 outline-value' : over === 'before' ? 'border-t-2 border-value' : ''} ${picked ? `bg-wash ${worked ? 'font-semibold' : ''}` : 'hover:bg-wash/50'} ${p.visible ? '' : 'opacity-50'}`}
      style={{ top, paddingLeft: 6 + depth * 16 }}
      onClick={(event) => pick(p.id, event)}
      onDoubleClick={() => setNaming(true)}
    >
      {p.kind === 'group' ? (
        <button
          className="quiet flex shrink-0 items-center"
          tabIndex={-1}
          aria-label={open ? 'Close' : 'Open'}
          onClick={(e) => {
            e.stopPropagation();
            toggle(p.id);
          }}
          onDoubleClick={(e) => e.stopPropagation()}
        >
          {open ? <IconChevronDown size={12} /> : <IconChevronRight size={12} />}
          <IconFolder size={12} stroke={1.6} />
        </button>
      ) : (
        <Icon
          size={12}
          stroke={1.8}
          aria-label={p.link ? 'linked copy' : undefined}
          aria-hidden={p.link ? undefined : true}
          className={`shrink-0 ${p.link ? 'text-value' : ''}`}
        />
      )}
      {naming ? (
        <input
          autoFocus
          className="value-input !w-full"
          aria-label="Name"
          defaultValue={p.name}
          maxLength={200}
          onFocus={(e) => e.target.select()}
          onClick={(e) => e.stopPropagation()}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') {
              e.currentTarget.value = p.name;
              e.currentTarget.blur();
            }
          }}
          onBlur={(e) => {
            setNaming(false);
            const name = e.target.value;
            session.change('rename', (d) => changes.renamePiece(d, p.id, name));
          }}
        />
      ) : (
        <span className="min-w-0 flex-1 truncate" data-rename={worked ? '' : undefined}>
          {p.name}
        </span>
      )}
      {(hot || !p.visible || p.locked || p.ghost) && (
        <span className="flex shrink-0">
          {(p.ghost || (hot && p.kind === 'mesh')) && (
            <button
              className="icon-button !h-5 !w-5"
              aria-label={p.ghost ? `Solid ${p.name}` : `Ghost ${p.name}`}
              title="Lines over the others"
              onClick={flag(p.ghost ? 'no ghost' : 'ghost', { ghost: !p.ghost })}
            >
              <IconGhost2 size={13} stroke={1.6} />
            </button>
          )}
          {(p.locked || hot) && (
            <button
              className="icon-button !h-5 !w-5"
              aria-label={p.locked ? `Unlock ${p.name}` : `Lock ${p.name}`}
              onClick={flag(p.locked ? 'unlock' : 'lock', { locked: !p.locked })}
            >
              {p.locked ? <IconLock size={13} stroke={1.6} /> : <IconLockOpen size={13} stroke={1.6} />}
            </button>
          )}
          {(!p.visible || hot) && (
            <button
              className="icon-button !h-5 !w-5"
              aria-label={p.visible ? `Hide ${p.name}` : `Show ${p.name}`}
              onClick={flag(p.visible ? 'hide' : 'show', { visible: !p.visible })}
            >
              {p.visible ? <IconEye size={13} stroke={1.6} /> : <IconEyeOff size={13} stroke={1.6} />}
            </button>
          )}
        </span>
      )}
      {p.kind !== 'blueprint' && held && (
        <span
          className="num quiet shrink-0 font-normal"
          title={
            p.kind === 'group' ? `${held.pieces} pieces, ${held.triangles.toLocaleString('en')} triangles` : undefined
          }
        >
          {p.kind === 'group' ? held.pieces : held.triangles || ''}
        </span>
      )}
    </div>
  );
});
