'use client';
import { useState } from 'react';
import { Dialog } from '../../parts/Dialog';
import { session } from '../session';
import { useBench } from '../store';

/** Two windows on one project: the second to save gets a plain choice. */
export function Conflict() {
  const saving = useBench((s) => s.saving);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState('');
  if (saving.kind !== 'conflict') return null;
  const act = async (work: () => Promise<void>) => {
    setBusy(true);
    setError('');
    try {
      await work();
    } catch (e) {
      setError((e as Error).message);
      setBusy(false);
    }
  };
  return (
    <Dialog title="This project was changed in another window" onClose={() => undefined}>
      <p className="mb-4">
        What you did here has not been saved over it. Take over the other window’s work, or keep yours as a project of
        its own.
      </p>
      {error && (
        <p role="alert" className="mb-3 text-wrong">
          {error}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <button className="btn btn-sm" disabled={busy} onClick={() => void act(() => session.reload())}>
          Reload
        </button>
        <button className="btn btn-sm btn-primary" disabled={busy} onClick={() => void act(() => session.keepAsCopy())}>
          Keep mine as a copy
        </button>
      </div>
    </Dialog>
  );
}
