'use client';
import { IconFileImport, IconFolder, IconPlus, IconSearch } from '@tabler/icons-react';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { ACCEPT_MODELS } from '../../../core/formats/kinds';
import { isStart } from '../../../core/recipe/define';
import { stepDefs } from '../../../core/steps';
import { MenuButton, type MenuItem } from '../../parts/Tooltip';
import { addPiece } from '../actions';
import { runCommand } from '../commands';
import { importFiles } from '../gather/arrivals';
import { pickPieces } from '../pieceActions';
import { useBench } from '../store';
import { heldBy, rowsOf } from './rows';
import { Tree } from './Tree';

const NONE: readonly never[] = [];

/** Every way to a new piece. */
function newPieces(fromFile: () => void): MenuItem[] {
  const starts = stepDefs().filter((d) => isStart(d) && !d.hidden);
  return [
    ...starts.map((d) => ({
      id: d.kind,
      label: <span className="inline-block first-letter:uppercase">{d.kind}</span>,
      run: () => addPiece(d.kind),
    })),
    { id: 'group', label: 'Group', icon: <IconFolder size={14} stroke={1.6} />, run: () => runCommand('group') },
    { id: 'file', label: 'From a file …', icon: <IconFileImport size={14} stroke={1.6} />, run: fromFile },
  ];
}

/** The pieces of the project, as a tree of groups. */
export function Pieces() {
  const pieces = useBench((s) => s.document?.pieces ?? NONE);
  const shown = useBench((s) => s.shown);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [finding, setFinding] = useState(false);
  const [find, setFind] = useState('');
  const file = useRef<HTMLInputElement>(null);
  const sought = useDeferredValue(find);
  const rows = useMemo(() => rowsOf(pieces, closed, sought), [pieces, closed, sought]);
  const held = useMemo(() => heldBy(pieces, (id) => shown.get(id)?.buffers?.triangles ?? 0), [pieces, shown]);
  const meshes = useMemo(() => pieces.filter((p) => p.kind === 'mesh').length, [pieces]);
  const triangles = useMemo(
    () => pieces.reduce((n, p) => n + (p.kind === 'mesh' && p.visible ? (held.get(p.id)?.triangles ?? 0) : 0), 0),
    [pieces, held],
  );
  const seek = (on: boolean) => {
    setFinding(on);
    setFind('');
  };
  let none = 'No pieces yet. Add one with +, or drop models, drawings and pictures on the bench.';
  if (find.trim()) none = `No piece is called “${find.trim()}”.`;
  return (
    <section aria-label="Pieces" className="flex min-h-0 flex-col border-b border-line" style={{ maxHeight: '48%' }}>
      <div className="row px-3.5 pt-2.5">
        <h2 className="panel-title">Pieces</h2>
        <span className="quiet flex items-center gap-1">
          {meshes.toLocaleString('en')} · {triangles.toLocaleString('en')} tris
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="Find a piece"
            title="Find a piece"
            aria-pressed={finding}
            onClick={() => seek(!finding)}
          >
            <IconSearch size={14} stroke={1.6} />
          </button>
          <MenuButton items={newPieces(() => file.current?.click())} label="New piece">
            <button className="btn btn-ghost btn-square icon-btn" title="New piece">
              <IconPlus size={15} stroke={1.6} />
            </button>
          </MenuButton>
          <input
            ref={file}
            type="file"
            multiple
            hidden
            accept={ACCEPT_MODELS}
            aria-label="Model file"
            onChange={(e) => {
              void importFiles([...(e.target.files ?? [])]);
              e.target.value = '';
            }}
          />
        </span>
      </div>
      {finding && (
        <div className="px-3.5 pb-1.5">
          <input
            autoFocus
            className="input input-xs w-full"
            placeholder="Part of a name"
            aria-label="Find a piece by name"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Escape') seek(false);
              if (e.key !== 'Enter') return;
              const words = find.trim().toLowerCase();
              const hits = rows.filter((r) => r.piece.name.toLowerCase().includes(words));
              if (hits.length) pickPieces(hits.map((r) => r.piece.id));
            }}
          />
        </div>
      )}
      <Tree rows={rows} held={held} closed={closed} setClosed={setClosed} none={none} />
    </section>
  );
}
