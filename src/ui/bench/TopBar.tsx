'use client';
import { IconArrowBackUp, IconArrowForwardUp, IconMoon, IconSun } from '@tabler/icons-react';
import { Mark } from '../parts/Mark';
import { toggleTheme, useTheme } from '../parts/theme';
import { setStage } from './actions';
import { session } from './session';
import { bench, STAGES, useBench } from './store';

function saving(s: ReturnType<typeof useBench.getState>): [string, string] {
  const k = s.saving;
  if (k.kind === 'saved') return [`Saved · change ${s.revision}`, 'quiet'];
  if (k.kind === 'saving') return ['Saving …', 'quiet'];
  if (k.kind === 'waiting') return [`${k.count} ${k.count === 1 ? 'change waits' : 'changes wait'} here`, 'text-warn'];
  return ['Not saved', 'text-wrong'];
}

export function TopBar() {
  const s = useBench(),
    theme = useTheme(),
    [text, tone] = saving(s);
  const piece = s.document?.pieces.find((p) => p.id === s.piece);
  const has = (stage: string) =>
    !!s.document?.pieces.some((p) => p.recipe.length) &&
    (stage === 'gather' ||
      stage === 'shape' ||
      (stage === 'unwrap' && piece?.recipe.some((x) => x.kind === 'unwrap')) ||
      (stage === 'finish' && piece?.recipe.some((x) => x.kind === 'color')));
  return (
    <header className="flex h-[48px] shrink-0 items-center gap-3 border-b border-line px-3.5">
      <a href="/" aria-label="Glypta, back to the shelf" className="flex items-center gap-2.5">
        <Mark />
        <span className="font-serif text-[19px] font-semibold">Glypta</span>
      </a>
      <div className="min-w-0 max-w-[230px] truncate" title={s.document?.name}>
        <span className="quiet">{s.document?.name}</span>
        {piece && (
          <>
            {' '}
            <span className="quiet">/</span> <b className="font-semibold">{piece.name}</b>
          </>
        )}
      </div>
      <nav aria-label="Stages" className="mx-auto flex gap-0.5">
        {STAGES.map(([stage, label]) => (
          <button
            key={stage}
            aria-current={s.stage === stage ? 'page' : undefined}
            onClick={() => setStage(stage)}
            className="flex h-[30px] items-center gap-2 rounded-md px-3 hover:bg-wash"
            style={s.stage === stage ? { background: 'var(--tool)', color: 'var(--tool-ink)' } : undefined}
          >
            <span
              className="h-[6px] w-[6px] rounded-full"
              style={{
                background: has(stage) ? (s.stage === stage ? 'var(--tool-value)' : 'var(--value)') : 'var(--line)',
              }}
            />
            {label}
          </button>
        ))}
      </nav>
      <button
        className="icon-button"
        aria-label={s.canUndo ? `Undo ${s.canUndo}` : 'Undo'}
        title={s.canUndo ? `Undo ${s.canUndo} (Ctrl Z)` : 'Nothing to undo'}
        disabled={!s.canUndo}
        onClick={() => session.undo()}
      >
        <IconArrowBackUp size={17} stroke={1.6} />
      </button>
      <button
        className="icon-button"
        aria-label={s.canRedo ? `Redo ${s.canRedo}` : 'Redo'}
        title={s.canRedo ? `Redo ${s.canRedo} (Ctrl Shift Z)` : 'Nothing to redo'}
        disabled={!s.canRedo}
        onClick={() => session.redo()}
      >
        <IconArrowForwardUp size={17} stroke={1.6} />
      </button>
      <span
        role="status"
        data-testid="saving"
        className={`w-[124px] truncate text-right ${tone}`}
        title={s.saving.kind === 'waiting' || s.saving.kind === 'refused' ? s.saving.why : undefined}
      >
        {text}
      </span>
      <button
        className="icon-button"
        aria-label={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
        title={theme === 'plaster' ? 'Dark theme' : 'Light theme'}
        onClick={toggleTheme}
      >
        {theme === 'plaster' ? <IconMoon size={16} stroke={1.6} /> : <IconSun size={16} stroke={1.6} />}
      </button>
      <button
        className="num quiet rounded border border-line px-1.5 py-0.5 hover:bg-wash"
        title="Find any command"
        onClick={() => bench.set({ search: true })}
      >
        Ctrl K
      </button>
    </header>
  );
}
