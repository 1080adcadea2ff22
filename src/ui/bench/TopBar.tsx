'use client';
import { IconArrowBackUp, IconArrowForwardUp, IconHistory, IconMoon, IconSun } from '@tabler/icons-react';
import { Mark } from '../parts/Mark';
import { Tooltip } from '../parts/Tooltip';
import { toggleTheme, useTheme } from '../parts/theme';
import { setStage } from './actions';
import { command, runCommand } from './commands';
import { stageDefs, type StageDef } from './stages';
import { bench, useBench, type SavingText } from './store';

export function TopBar() {
  const name = useBench((s) => s.document?.name);
  const piece = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece)?.name);
  return (
    <header className="flex h-[48px] shrink-0 items-center gap-3 border-b border-line px-3.5">
      <a href="/" aria-label="Glypta, back to the shelf" className="flex items-center gap-2.5">
        <Mark />
        <span className="font-serif text-[19px] font-semibold">Glypta</span>
      </a>
      <div className="min-w-0 max-w-[230px] truncate" title={name}>
        <span className="quiet">{name}</span>
        {piece && (
          <>
            {' '}
            <span className="quiet">/</span> <b className="font-semibold">{piece}</b>
          </>
        )}
      </div>
      <nav aria-label="Stages" className="mx-auto flex gap-0.5">
        {stageDefs().map((s) => (
          <StageButton key={s.id} stage={s} />
        ))}
      </nav>
      <UndoRedo />
      <Saving />
      <ThemeButton />
      <button
        className="kbd kbd-sm num quiet hover:bg-wash"
        title="Find any command"
        onClick={() => bench.set({ over: 'search' })}
      >
        Ctrl K
      </button>
    </header>
  );
}

function StageButton({ stage }: { stage: StageDef }) {
  const on = useBench((s) => s.stage === stage.id);
  const done = useBench(
    (s) =>
      !!s.document?.pieces.some((p) => p.recipe.length) &&
      !!stage.done?.(s.document.pieces.find((p) => p.id === s.piece)),
  );
  const lit = on ? 'bg-tool-value' : 'bg-value';
  return (
    <Tooltip content={<StageHelp stage={stage} />} placement="bottom">
      <button
        aria-current={on ? 'page' : undefined}
        onClick={() => setStage(stage.id)}
        className={`flex h-[30px] items-center gap-2 rounded-md px-3 ${on ? 'bg-tool text-tool-ink' : 'hover:bg-wash'}`}
      >
        <span className={`h-[6px] w-[6px] rounded-full ${done ? lit : 'bg-line'}`} />
        {stage.title}
      </button>
    </Tooltip>
  );
}

/** What one can do in a stage. */
const StageHelp = ({ stage }: { stage: StageDef }) => (
  <>
    <span className="block">{stage.about}</span>
    <span className="mt-1 block opacity-75">
      Try: {stage.first.flatMap((id) => command(id)?.title.toLowerCase() ?? []).join(', ')}
    </span>
  </>
);

function UndoRedo() {
  const undo = useBench((s) => s.canUndo);
  const redo = useBench((s) => s.canRedo);
  return (
    <span className="flex">
      <button
        className="btn btn-ghost btn-xs btn-square"
        aria-label={undo ? `Undo ${undo}` : 'Undo'}
        title={undo ? `Undo: ${undo} (Ctrl Z)` : 'Nothing to undo'}
        disabled={!undo}
        onClick={() => runCommand('undo')}
      >
        <IconArrowBackUp size={17} stroke={1.6} />
      </button>
      <button
        className="btn btn-ghost btn-xs btn-square"
        aria-label={redo ? `Redo ${redo}` : 'Redo'}
        title={redo ? `Redo: ${redo} (Ctrl Shift Z)` : 'Nothing to redo'}
        disabled={!redo}
        onClick={() => runCommand('redo')}
      >
        <IconArrowForwardUp size={17} stroke={1.6} />
      </button>
      <button
        className="btn btn-ghost btn-xs btn-square"
        aria-label="What was done"
        title="What was done: go back many at once"
        onClick={() => runCommand('history')}
      >
        <IconHistory size={16} stroke={1.6} />
      </button>
    </span>
  );
}

function Saving() {
  const saving = useBench((s) => s.saving);
  const revision = useBench((s) => s.revision);
  const [text, tone] = savingText(saving, revision);
  const why = saving.kind === 'waiting' ? saving.why : undefined;
  const aside = useBench((s) => s.aside.length);
  return (
    <>
      {aside > 0 && (
        <button className="btn btn-ghost btn-xs text-wrong" onClick={() => bench.set({ asideSeen: 0 })}>
          {aside} not saved
        </button>
      )}
      <span role="status" data-testid="saving" className={`w-[124px] truncate text-right ${tone}`} title={why}>
        {text}
      </span>
    </>
  );
}

function savingText(saving: SavingText, revision: number): [string, string] {
  if (saving.kind === 'saved') return [`Saved · change ${revision}`, 'quiet'];
  if (saving.kind === 'saving') return ['Saving …', 'quiet'];
  if (saving.kind !== 'waiting') return ['Not saved', 'text-wrong'];
  return [`${saving.count} ${saving.count === 1 ? 'change waits' : 'changes wait'} here`, 'text-warn'];
}

function ThemeButton() {
  const light = useTheme() === 'plaster';
  const label = light ? 'Dark theme' : 'Light theme';
  return (
    <button className="btn btn-ghost btn-xs btn-square" aria-label={label} title={label} onClick={toggleTheme}>
      {light ? <IconMoon size={16} stroke={1.6} /> : <IconSun size={16} stroke={1.6} />}
    </button>
  );
}
