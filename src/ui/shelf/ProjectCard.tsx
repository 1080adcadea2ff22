'use client';
import { IconCopy, IconDotsVertical, IconDownload, IconRestore, IconTrash } from '@tabler/icons-react';
import { format, formatDistanceToNow, isAfter, subDays } from 'date-fns';
import Link from 'next/link';
import { useState } from 'react';
import type { ShelfEntry } from '../parts/api';
import { MenuButton, type MenuItem } from '../parts/Tooltip';
import { binProject, copyProject, removeProject, restoreProject } from './data';
import { PURPOSES } from './purposes';

type Act = (work: () => Promise<unknown>) => void;

/** When something was changed: how long ago, or the day once that is longer. */
function when(iso: string): string {
  const at = new Date(iso);
  return isAfter(at, subDays(new Date(), 6)) ? formatDistanceToNow(at, { addSuffix: true }) : format(at, 'd MMMM yyyy');
}

function actionsFor(p: ShelfEntry, act: Act): MenuItem[] {
  if (p.binnedAt)
    return [
      {
        id: 'restore',
        label: 'Restore',
        icon: <IconRestore size={15} stroke={1.6} />,
        run: () => act(restoreProject(p.id)),
      },
      {
        id: 'remove',
        label: 'Remove for good',
        icon: <IconTrash size={15} stroke={1.6} />,
        run: () => act(removeProject(p.id)),
      },
    ];
  return [
    { id: 'copy', label: 'Make a copy', icon: <IconCopy size={15} stroke={1.6} />, run: () => act(copyProject(p.id)) },
    {
      id: 'export',
      label: 'Export',
      icon: <IconDownload size={15} stroke={1.6} />,
      run: () => {
        const a = document.createElement('a');
        a.href = `/api/projects/${p.id}/export`;
        a.download = '';
        a.click();
      },
    },
    {
      id: 'bin',
      label: 'Put in the bin',
      icon: <IconTrash size={15} stroke={1.6} />,
      run: () => act(binProject(p.id)),
    },
  ];
}

/** The model from the front; turning slowly while the pointer rests on it, unless less motion was asked for. */
function Picture({ project: p, turning }: { project: ShelfEntry; turning: boolean }) {
  const from = `/api/projects/${p.id}/thumbnail?r=${p.revision}`;
  return (
    <span className="view-ground relative block aspect-[3/2] w-full overflow-hidden">
      <img src={from} alt="" width={480} height={320} loading="lazy" className="h-full w-full object-cover" />
      {turning && (
        <span
          className="turning absolute inset-0"
          style={{ backgroundImage: `url("${from}&turn=1")` }}
          aria-hidden="true"
        />
      )}
    </span>
  );
}

export function ProjectCard({ project: p, act }: { project: ShelfEntry; act: Act }) {
  const [near, setNear] = useState(false);
  const text = (
    <span className="block px-3.5 py-2.5">
      <b className="block truncate text-[14px] font-semibold">{p.name}</b>
      <span className="quiet mt-0.5 flex justify-between">
        <span>
          {PURPOSES.find((x) => x[0] === p.purpose)?.[1]} · {p.units}
        </span>
        <time dateTime={p.changedAt} title={format(new Date(p.changedAt), 'd MMMM yyyy, HH:mm')}>
          {when(p.changedAt)}
        </time>
      </span>
    </span>
  );
  const open = (
    <Link
      href={`/bench/${p.id}`}
      prefetch={false}
      aria-label={`Open ${p.name}`}
      className="block after:absolute after:inset-0"
    >
      <Picture project={p} turning={near} />
    </Link>
  );
  return (
    <li
      className="card card-border relative overflow-hidden border-line bg-base-100"
      onPointerEnter={() => setNear(true)}
      onPointerLeave={() => setNear(false)}
    >
      <div className={p.binnedAt ? 'opacity-70' : ''}>
        {p.binnedAt ? <Picture project={p} turning={false} /> : open}
        {text}
      </div>
      <MenuButton items={actionsFor(p, act)} label={`Actions for ${p.name}`}>
        <button className="btn btn-xs btn-square absolute right-2 top-2 z-10 border-line bg-base-100">
          <IconDotsVertical size={16} stroke={1.6} />
        </button>
      </MenuButton>
    </li>
  );
}
