'use client';
import { Dialog } from '../../parts/Dialog';
import { StartList } from '../StartList';
import { bench } from '../store';

/** "Start with …", over the bench. */
export const Start = () => (
  <Dialog title="Start with …" onClose={() => bench.set({ over: null })} width={640}>
    <StartList done={() => bench.set({ over: null })} />
  </Dialog>
);
