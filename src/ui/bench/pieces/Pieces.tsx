'use client';
import { IconChevronDown, IconChevronRight, IconCircle, IconEye, IconEyeOff, IconFileImport, IconLock, IconLockOpen, IconPlus, IconSquare, IconSquareRoundedLetterG } from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { stepDefs } from '../../../core/recipe/registry';
import * as changes from '../../../document/changes';
import type { Piece } from '../../../document/types';
import { addPiece, focusPiece } from '../actions';
import { importFiles } from '../import';
import { session } from '../session';
import { useBench } from '../store';

interface Row { piece: Piece; depth: number; open: boolean }

/** The tree of pieces. */
export function Pieces() {
  const doc = useBench((s) => s.document), picked = useBench((s) => s.piece), shown = useBench((s) => s.shown);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set()), [menu, setMenu] = useState(false);
  const list = useRef<HTMLDivElement>(null), file = useRef<HTMLInputElement>(null);
  const rows = useMemo(() => {
    const out: Row[] = [], under = new Map<string | null, Piece[]>();
    for (const p of doc?.pieces ?? []) under.set(p.parent, [...(under.get(p.parent) ?? []), p]);
    const walk = (parent: string | null, depth: number) => { for (const piece of under.get(parent) ?? []) { const open = !closed.has(piece.id); out.push({ piece, depth, open }); if (piece.kind === 'group' && open) walk(piece.id, depth + 1); } };
    walk(null, 0);
    return out;
  }, [doc?.pieces, closed]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => list.current, estimateSize: () => 26, overscan: 8 });
  const meshes = doc?.pieces.filter((p) => p.kind === 'mesh') ?? [];
  const triangles = meshes.reduce((n, p) => n + (p.visible ? shown.get(p.id)?.buffers?.triangles ?? 0 : 0), 0);
  const step = (by: number) => { const i = rows.findIndex((r) => r.piece.id === picked), next = rows[Math.max(0, Math.min(rows.length - 1, i + by))]; if (next) { focusPiece(next.piece.id); virtual.scrollToIndex(rows.indexOf(next)); } };
  return (
    <section aria-label="Pieces" className="flex min-h-0 flex-col border-b border-line" style={{ maxHeight: '42%' }}>
      <div className="row px-3.5 pt-2.5"><h2 className="panel-title">Pieces</h2>
        <span className="quiet flex items-center gap-1">{meshes.length} · {triangles.toLocaleString('en')} tris
          <span className="relative">
            <button className="icon-button" aria-label="New piece" title="New piece" aria-expanded={menu} onClick={() => setMenu(!menu)}><IconPlus size={15} stroke={1.6} /></button>
            {menu && <div role="menu" className="absolute right-0 top-6 z-30 w-44 rounded-lg border border-line bg-paper py-1 text-ink shadow-lg" onBlur={(e) => { if (!e.currentTarget.contains(e.relatedTarget)) setMenu(false); }} ref={(el) => { if (el && !el.contains(document.activeElement)) el.querySelector('button')?.focus(); }}>
              {stepDefs().filter((d) => d.takes === 'nothing' && !d.hidden).map((d) => <button key={d.kind} role="menuitem" className="block w-full px-3 py-1 text-left capitalize hover:bg-wash" onClick={() => { setMenu(false); addPiece(d.kind); }}>{d.kind}</button>)}
              <button role="menuitem" className="block w-full px-3 py-1 text-left hover:bg-wash" onClick={() => { setMenu(false); session.change('add a group', (d) => changes.addGroup(d, changes.newId(), 'group')); }}>Group</button>
              <button role="menuitem" className="flex w-full items-center gap-1.5 px-3 py-1 text-left hover:bg-wash" onClick={() => { setMenu(false); file.current?.click(); }}><IconFileImport size={14} stroke={1.6} />From a file …</button>
            </div>}
            <input ref={file} type="file" multiple hidden accept=".obj,.mtl,.glb,.zip,.png,.jpg,.jpeg,.webp" aria-label="Model file" onChange={(e) => { void importFiles([...(e.target.files ?? [])]); e.target.value = ''; }} />
          </span>
        </span>
      </div>
      <div ref={list} role="tree" aria-label="Pieces" tabIndex={0} className="scroll-thin min-h-0 flex-1 overflow-y-auto px-2 pb-2" onKeyDown={(e) => { if (e.target !== e.currentTarget) return; if (e.key === 'ArrowDown') { step(1); e.preventDefault(); e.stopPropagation(); } if (e.key === 'ArrowUp') { step(-1); e.preventDefault(); e.stopPropagation(); } }}>
        {rows.length === 0 && <p className="quiet px-1.5 py-2">No pieces yet. Add one with +, or drop an OBJ or GLB file on the bench.</p>}
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((v) => <TreeRow key={rows[v.index].piece.id} row={rows[v.index]} top={v.start} picked={picked === rows[v.index].piece.id} faces={shown.get(rows[v.index].piece.id)?.buffers?.triangles}
            toggle={(id) => setClosed((c) => { const n = new Set(c); if (!n.delete(id)) n.add(id); return n; })} />)}
        </div>
      </div>
    </section>
  );
}

function TreeRow({ row: { piece: p, depth, open }, top, picked, faces, toggle }: { row: Row; top: number; picked: boolean; faces?: number; toggle: (id: string) => void }) {
  const [naming, setNaming] = useState(false);
  const Icon = p.kind === 'group' ? IconSquareRoundedLetterG : p.recipe[0]?.kind === 'sphere' || p.recipe[0]?.kind === 'cylinder' ? IconCircle : IconSquare;
  return (
    <div role="treeitem" aria-selected={picked} aria-level={depth + 1} aria-expanded={p.kind === 'group' ? open : undefined} aria-label={p.name} draggable={!naming}
      onDragStart={(e) => e.dataTransfer.setData('glypta/piece', p.id)} onDragOver={(e) => { if (p.kind === 'group') e.preventDefault(); }} onDrop={(e) => { const id = e.dataTransfer.getData('glypta/piece'); if (id && p.kind === 'group') session.change('move into a group', (d) => changes.setParent(d, id, p.id)); }}
      className={`group absolute left-0 flex h-[26px] w-full cursor-default items-center gap-1.5 rounded-md pr-1.5 ${picked ? 'bg-wash font-semibold' : 'hover:bg-wash/50'} ${p.visible ? '' : 'opacity-50'}`} style={{ top, paddingLeft: 6 + depth * 18 }} onClick={() => focusPiece(p.id)} onDoubleClick={() => setNaming(true)}>
      {p.kind === 'group' ? <button className="quiet" tabIndex={-1} aria-label={open ? 'Close' : 'Open'} onClick={(e) => { e.stopPropagation(); toggle(p.id); }}>{open ? <IconChevronDown size={12} /> : <IconChevronRight size={12} />}</button> : <Icon size={12} stroke={1.8} aria-hidden className="shrink-0" />}
      {naming ? <input autoFocus className="value-input !w-full" aria-label="Name" defaultValue={p.name} maxLength={200} onFocus={(e) => e.target.select()} onClick={(e) => e.stopPropagation()} onKeyDown={(e) => { e.stopPropagation(); if (e.key === 'Enter') e.currentTarget.blur(); if (e.key === 'Escape') { e.currentTarget.value = p.name; e.currentTarget.blur(); } }} onBlur={(e) => { setNaming(false); const name = e.target.value; session.change('rename', (d) => changes.renamePiece(d, p.id, name)); }} />
        : <span className="min-w-0 flex-1 truncate" data-rename={picked ? '' : undefined}>{p.name}</span>}
      <span className={`flex ${p.visible && !p.locked ? 'opacity-0 focus-within:opacity-100 group-hover:opacity-100' : ''}`}>
        <button className="icon-button !h-5 !w-5" aria-label={p.locked ? `Unlock ${p.name}` : `Lock ${p.name}`} onClick={(e) => { e.stopPropagation(); session.change(p.locked ? 'unlock' : 'lock', (d) => changes.setPiece(d, p.id, { locked: !p.locked })); }}>{p.locked ? <IconLock size={13} stroke={1.6} /> : <IconLockOpen size={13} stroke={1.6} />}</button>
        <button className="icon-button !h-5 !w-5" aria-label={p.visible ? `Hide ${p.name}` : `Show ${p.name}`} onClick={(e) => { e.stopPropagation(); session.change(p.visible ? 'hide' : 'show', (d) => changes.setPiece(d, p.id, { visible: !p.visible })); }}>{p.visible ? <IconEye size={13} stroke={1.6} /> : <IconEyeOff size={13} stroke={1.6} />}</button>
      </span>
      {p.kind === 'mesh' && <span className="num quiet font-normal">{faces ?? ''}</span>}
    </div>
  );
}
