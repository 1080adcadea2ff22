'use client';
/** Changes that the server will not take: set apart, told, and to be taken along. All else goes on being saved. */
import { saveFile } from '../../parts/handover';
import { Dialog } from '../../parts/Dialog';
import { session } from '../session';
import { bench, useBench } from '../store';

export function Aside() {
  const aside = useBench((s) => s.aside);
  const seen = useBench((s) => s.asideSeen);
  const name = useBench((s) => s.document?.name ?? 'project');
  if (aside.length <= seen) return null;
  const close = () => bench.set({ asideSeen: aside.length });
  const download = () => {
    const changes = aside.map(({ label, base, patches, aside: why }) => ({ label, base, patches, why }));
    const text = JSON.stringify({ project: name, changes }, null, 2);
    saveFile(`${name} set apart.json`, text, 'application/json');
  };
  const one = aside.length === 1;
  return (
    <Dialog title={one ? 'A change could not be saved' : `${aside.length} changes could not be saved`} onClose={close}>
      <p className="mb-2">
        {one ? 'It was' : 'They were'} set apart, and the rest of your work is saved. What you see is the project
        without {one ? 'it' : 'them'}.
      </p>
      <ul className="scroll-thin mb-4 max-h-48 overflow-y-auto">
        {aside.map((a) => (
          <li key={a.id} className="border-t border-line py-1.5">
            <span className="font-medium">{a.label}</span>
            <span className="quiet block">{a.aside}</span>
          </li>
        ))}
      </ul>
      {/* What changes nothing comes first: it has the focus when this opens. */}
      <div className="flex flex-row-reverse gap-2">
        <button className="btn btn-sm btn-primary" onClick={close}>
          Go on
        </button>
        <button className="btn btn-sm" onClick={download}>
          Download {one ? 'it' : 'them'}
        </button>
        <button className="btn btn-sm" onClick={() => void session.dropAside()}>
          Let {one ? 'it' : 'them'} go
        </button>
      </div>
    </Dialog>
  );
}
