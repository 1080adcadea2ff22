'use client';
/**
 * The moves of a shape by hand as a list: each a sentence with live values; switched off, moved, copied, named,
 * removed, shown.
 */
import {
  IconArrowDown,
  IconArrowUp,
  IconCopy,
  IconDotsVertical,
  IconEye,
  IconEyeOff,
  IconFocus2,
  IconPencil,
  IconTrash,
} from '@tabler/icons-react';
import { useState } from 'react';
import type { Move } from '../../../core/recipe/values';
import { toolDef } from '../../../core/tools';
import * as changes from '../../../document/changes';
import type { Piece, Step } from '../../../document/types';
import { MenuButton, type MenuItem } from '../../parts/Tooltip';
import { showMove } from '../actions';
import { session } from '../session';
import { PickCount } from './PickCount';
import { Sentence } from './Sentence';

/** A menu that closes takes the focus back first. Milliseconds. */
const AFTER_MENU = 60;
/** Of long lists so many from the end, the rest behind a button: the last are the ones that are worked on. */
const SHOWN = 60;

export function Moves({ piece, step, moves }: { piece: Piece; step: Step; moves: readonly Move[] }) {
  const [all, setAll] = useState(false);
  const from = all ? 0 : Math.max(0, moves.length - SHOWN);
  return (
    <ol className="mt-1 border-l border-line pl-2" aria-label="Moves">
      {moves.length === 0 && <li className="quiet">No moves yet. Pick something in the view and move it.</li>}
      {from > 0 && (
        <li>
          <button className="link-remedy" onClick={() => setAll(true)}>
            The {from} before
          </button>
        </li>
      )}
      {moves.slice(from).map((m, i) => (
        <MoveLine key={m.id} piece={piece} step={step} move={m} index={from + i} count={moves.length} />
      ))}
    </ol>
  );
}

function MoveLine({
  piece,
  step,
  move: m,
  index,
  count,
}: {
  piece: Piece;
  step: Step;
  move: Move;
  index: number;
  count: number;
}) {
  const [naming, setNaming] = useState(false);
  const def = toolDef(m.tool);
  return (
    <li className={`group/move flex items-start gap-1 text-[12px] ${m.off ? 'opacity-50' : ''}`}>
      <span className="num quiet w-5 shrink-0">{index + 1}</span>
      <span className="min-w-0 flex-1">
        {naming ? (
          <input
            autoFocus
            className="input input-xs w-full"
            aria-label={`Name of move ${index + 1}`}
            defaultValue={m.name ?? ''}
            maxLength={200}
            onClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') e.currentTarget.blur();
              if (e.key === 'Escape') setNaming(false);
            }}
            onBlur={(e) => {
              setNaming(false);
              const name = e.target.value;
              session.change('name a move', (d) => changes.markMove(d, piece.id, step.id, m.id, { name }));
            }}
          />
        ) : (
          m.name && <i className="quiet mr-1">{m.name}.</i>
        )}
        {def ? (
          <Sentence
            title={def.title}
            sentence={def.sentence}
            defs={def.values}
            values={m.values}
            special={(n) => (n === 'pick' ? <PickCount pick={m.pick} /> : undefined)}
            onChange={(name, value, live) =>
              session.change(
                'change a move',
                (d) => changes.setMove(d, piece.id, step.id, m.id, { [name]: value }),
                live ? `set ${m.id} ${name}` : undefined,
              )
            }
            onSettle={() => session.settle()}
            onCancel={() => session.cancel()}
          />
        ) : (
          m.tool
        )}
      </span>
      <MenuButton
        items={itemsOf(piece, step, m, index, count, () => setTimeout(() => setNaming(true), AFTER_MENU))}
        label={`Actions for move ${index + 1}`}
      >
        <button className="btn btn-ghost btn-square icon-small opacity-0 focus-visible:opacity-100 group-hover/move:opacity-100 aria-expanded:opacity-100">
          <IconDotsVertical size={12} stroke={1.6} />
        </button>
      </MenuButton>
    </li>
  );
}

function itemsOf(piece: Piece, step: Step, m: Move, index: number, count: number, name: () => void): MenuItem[] {
  const act = (label: string, edit: Parameters<typeof session.change>[1]) => () => session.change(label, edit);
  const icon = { size: 14, stroke: 1.6 };
  const at = [piece.id, step.id, m.id] as const;
  return [
    { id: 'show', icon: <IconFocus2 {...icon} />, label: 'Show what it did', run: () => showMove(m) },
    {
      id: 'on',
      icon: m.off ? <IconEye {...icon} /> : <IconEyeOff {...icon} />,
      label: m.off ? 'Switch on' : 'Switch off',
      run: act(m.off ? 'switch a move on' : 'switch a move off', (d) => changes.markMove(d, ...at, { off: !m.off })),
    },
    { id: 'name', icon: <IconPencil {...icon} />, label: 'Name', run: name },
    {
      id: 'up',
      icon: <IconArrowUp {...icon} />,
      label: 'Move up',
      disabled: index === 0,
      run: act('reorder moves', (d) => changes.placeMove(d, ...at, index - 1)),
    },
    {
      id: 'down',
      icon: <IconArrowDown {...icon} />,
      label: 'Move down',
      disabled: index === count - 1,
      run: act('reorder moves', (d) => changes.placeMove(d, ...at, index + 1)),
    },
    {
      id: 'copy',
      icon: <IconCopy {...icon} />,
      label: 'Copy',
      run: act('copy a move', (d) => changes.copyMove(d, ...at, changes.newId())),
    },
    {
      id: 'remove',
      icon: <IconTrash {...icon} />,
      label: 'Remove',
      run: act('remove a move', (d) => changes.removeMove(d, ...at)),
    },
  ];
}
