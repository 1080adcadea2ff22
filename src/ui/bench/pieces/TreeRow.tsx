'use client';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import {
  IconChevronDown,
  IconChevronRight,
  IconCircle,
  IconEye,
  IconEyeOff,
  IconFolder,
  IconGhost2,
  IconLink,
  IconLock,
  IconLockOpen,
  IconPhoto,
  IconSquare,
  IconVectorBezier2,
} from '@tabler/icons-react';
import { memo, useState } from 'react';
import * as changes from '../../../document/changes';
import type { Piece } from '../../../document/types';
import { session } from '../session';
import type { Held, Row } from './rows';

interface RowProps extends Row {
  top: number;
  picked: boolean;
  worked: boolean;
  held?: Held;
  /** Some row is being dragged. */
  dragging: boolean;
  toggle: (id: string) => void;
  pick: (id: string, e: React.MouseEvent) => void;
}

const BY_START: Readonly<Record<string, typeof IconSquare>> = {
  sphere: IconCircle,
  cylinder: IconCircle,
  section: IconVectorBezier2,
};

function iconOf(p: Piece): typeof IconSquare {
  if (p.kind === 'blueprint') return IconPhoto;
  if (p.link) return IconLink;
  return BY_START[p.recipe[0]?.kind] ?? IconSquare;
}

export const TreeRow = memo(function TreeRow(props: RowProps) {
  const { piece: p, depth, open, top, picked, worked, held, dragging, toggle, pick } = props;
  // Buttons that only matter under the pointer or on the picked row are not made for all the others: scrolling past
  // them stays light.
  const [naming, setNaming] = useState(false);
  const [near, setNear] = useState(false);
  const drag = useDraggable({ id: p.id, disabled: naming });
  const look = `${picked ? 'bg-wash' : 'hover:bg-wash/50'} ${picked && worked ? 'font-semibold' : ''}`;
  const faint = drag.isDragging || !p.visible ? 'opacity-50' : '';
  return (
    <div
      ref={drag.setNodeRef}
      role="treeitem"
      aria-selected={picked}
      aria-level={depth + 1}
      aria-expanded={p.kind === 'group' ? open : undefined}
      aria-label={p.name}
      {...drag.listeners}
      onPointerEnter={() => setNear(true)}
      onPointerLeave={() => setNear(false)}
      className={
        'group absolute left-0 flex h-[26px] w-full cursor-default items-center gap-1.5 rounded-md pr-1.5 ' +
        `${look} ${faint}`
      }
      style={{ top, paddingLeft: 6 + depth * 16 }}
      onClick={(e) => pick(p.id, e)}
      onDoubleClick={() => setNaming(true)}
    >
      {dragging && !drag.isDragging && <Drops piece={p} />}
      {p.kind === 'group' ? <Fold open={open} toggle={() => toggle(p.id)} /> : <PieceIcon piece={p} />}
      {naming ? (
        <Naming piece={p} close={() => setNaming(false)} />
      ) : (
        <span className="min-w-0 flex-1 truncate" data-rename={worked ? '' : undefined}>
          {p.name}
        </span>
      )}
      <Flags piece={p} hot={near || worked} />
      {p.kind !== 'blueprint' && held && <Count piece={p} held={held} />}
    </div>
  );
});

/** Where what is dragged would land: before this row, or into it. */
function Drops({ piece: p }: { piece: Piece }) {
  const before = useDroppable({ id: `before/${p.id}` });
  const into = useDroppable({ id: `into/${p.id}`, disabled: p.kind !== 'group' });
  const group = p.kind === 'group';
  return (
    <>
      <span
        ref={before.setNodeRef}
        className={`absolute inset-x-0 top-0 ${group ? 'h-2' : 'h-full'} ${before.isOver ? 'border-t-2 border-value' : ''}`}
      />
      {group && (
        <span
          ref={into.setNodeRef}
          className={`absolute inset-x-0 bottom-0 top-2 rounded-md ${into.isOver ? 'outline outline-2 outline-value' : ''}`}
        />
      )}
    </>
  );
}

const Fold = ({ open, toggle }: { open: boolean; toggle: () => void }) => (
  <button
    className="quiet flex shrink-0 items-center"
    tabIndex={-1}
    aria-label={open ? 'Close' : 'Open'}
    onClick={(e) => {
      e.stopPropagation();
      toggle();
    }}
    onDoubleClick={(e) => e.stopPropagation()}
  >
    {open ? <IconChevronDown size={12} /> : <IconChevronRight size={12} />}
    <IconFolder size={12} stroke={1.6} />
  </button>
);

function PieceIcon({ piece: p }: { piece: Piece }) {
  const Shape = iconOf(p);
  const linked = p.link !== null;
  return (
    <Shape
      size={12}
      stroke={1.8}
      aria-label={linked ? 'linked copy' : undefined}
      aria-hidden={linked ? undefined : true}
      className={`shrink-0 ${linked ? 'text-value' : ''}`}
    />
  );
}

const Naming = ({ piece: p, close }: { piece: Piece; close: () => void }) => (
  <input
    autoFocus
    className="value-input !w-full"
    aria-label="Name"
    defaultValue={p.name}
    maxLength={200}
    onFocus={(e) => e.target.select()}
    onClick={(e) => e.stopPropagation()}
    onPointerDown={(e) => e.stopPropagation()}
    onKeyDown={(e) => {
      e.stopPropagation();
      if (e.key === 'Escape') e.currentTarget.value = p.name;
      if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
    }}
    onBlur={(e) => {
      close();
      const name = e.target.value;
      session.change('rename', (d) => changes.renamePiece(d, p.id, name));
    }}
  />
);

function Flags({ piece: p, hot }: { piece: Piece; hot: boolean }) {
  if (!hot && p.visible && !p.locked && !p.ghost) return null;
  const flag = (label: string, part: Parameters<typeof changes.setPiece>[2]) => (e: React.MouseEvent) => {
    e.stopPropagation();
    session.change(label, (d) => changes.setPiece(d, p.id, part));
  };
  return (
    <span className="relative flex shrink-0">
      {(p.ghost || (hot && p.kind === 'mesh')) && (
        <Flag
          label={p.ghost ? `Solid ${p.name}` : `Ghost ${p.name}`}
          onClick={flag(p.ghost ? 'no ghost' : 'ghost', { ghost: !p.ghost })}
        >
          <IconGhost2 size={13} stroke={1.6} />
        </Flag>
      )}
      {(p.locked || hot) && (
        <Flag
          label={p.locked ? `Unlock ${p.name}` : `Lock ${p.name}`}
          onClick={flag(p.locked ? 'unlock' : 'lock', { locked: !p.locked })}
        >
          {p.locked ? <IconLock size={13} stroke={1.6} /> : <IconLockOpen size={13} stroke={1.6} />}
        </Flag>
      )}
      {(!p.visible || hot) && (
        <Flag
          label={p.visible ? `Hide ${p.name}` : `Show ${p.name}`}
          onClick={flag(p.visible ? 'hide' : 'show', { visible: !p.visible })}
        >
          {p.visible ? <IconEye size={13} stroke={1.6} /> : <IconEyeOff size={13} stroke={1.6} />}
        </Flag>
      )}
    </span>
  );
}

const Flag = (p: { label: string; onClick: (e: React.MouseEvent) => void; children: React.ReactNode }) => (
  <button
    className="btn btn-ghost btn-square icon-small"
    aria-label={p.label}
    title={p.label}
    tabIndex={-1}
    onClick={p.onClick}
  >
    {p.children}
  </button>
);

function Count({ piece: p, held }: { piece: Piece; held: Held }) {
  const group = p.kind === 'group';
  const told = `${held.pieces} pieces, ${held.triangles.toLocaleString('en')} triangles`;
  return (
    <span
      className="num quiet shrink-0 font-normal"
      title={group ? told : undefined}
      data-count={group ? held.pieces : held.triangles || ''}
    />
  );
}
