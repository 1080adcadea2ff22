'use client';
/** What may lie over the bench, one at a time; each is loaded when it is first asked for. */
import dynamic from 'next/dynamic';
import { useBench, type Over as OverName } from '../store';
import { Aside } from './Aside';
import { Conflict } from './Conflict';

const OVERS: Readonly<Record<OverName, React.ComponentType>> = {
  search: dynamic(() => import('./Search').then((m) => m.Search), { ssr: false }),
  keys: dynamic(() => import('./Keys').then((m) => m.Keys), { ssr: false }),
  start: dynamic(() => import('./Start').then((m) => m.Start), { ssr: false }),
  history: dynamic(() => import('./Past').then((m) => m.Past), { ssr: false }),
  compare: dynamic(() => import('./Compare').then((m) => m.Compare), { ssr: false }),
  solve: dynamic(() => import('./Solve').then((m) => m.Solve), { ssr: false }),
  variations: dynamic(() => import('./Variations').then((m) => m.Variations), { ssr: false }),
  tour: dynamic(() => import('./Tour').then((m) => m.Tour), { ssr: false }),
};

export function Over() {
  const over = useBench((s) => s.over);
  const Shown = over && OVERS[over];
  return (
    <>
      {Shown && <Shown />}
      <Aside />
      <Conflict />
    </>
  );
}
