'use client';
/** A colour: its patch opens a field to choose in, and its number can be typed. */
import {
  FloatingFocusManager,
  FloatingPortal,
  useClick,
  useDismiss,
  useInteractions,
  useRole,
} from '@floating-ui/react';
import { useState } from 'react';
import { HexColorInput, HexColorPicker } from 'react-colorful';
import { usePopover } from './popover';

export interface ColorFieldProps {
  label: string;
  value: string;
  /** While it is being chosen. */
  onChange: (color: string) => void;
  /** Once it is chosen. */
  onSettle: () => void;
}

export function ColorField({ label, value, onChange, onSettle }: ColorFieldProps) {
  const [open, setOpen] = useState(false);
  const turn = (next: boolean) => {
    setOpen(next);
    if (!next) onSettle();
  };
  const { refs, floatingStyles, context } = usePopover({ open, setOpen: turn, placement: 'left-start' });
  const { getReferenceProps, getFloatingProps } = useInteractions([
    useClick(context),
    useDismiss(context),
    useRole(context, { role: 'dialog' }),
  ]);
  return (
    <>
      <button
        ref={refs.setReference}
        {...getReferenceProps()}
        className="flex items-center gap-2"
        aria-label={`${label}: ${value}`}
      >
        <span className="num">{value}</span>
        <span className="h-6 w-8 rounded border border-line" style={{ background: value }} />
      </button>
      {open && (
        <FloatingPortal>
          <FloatingFocusManager context={context} modal={false}>
            <div
              ref={refs.setFloating}
              style={floatingStyles}
              {...getFloatingProps({ onKeyDown: (e) => e.stopPropagation() })}
              aria-label={label}
              className="z-40 flex flex-col gap-2 rounded-box border border-line bg-base-100 p-3 shadow-lg"
            >
              <HexColorPicker color={value} onChange={onChange} onPointerUp={onSettle} />
              <HexColorInput
                prefixed
                className="input input-sm num w-full"
                aria-label={`${label}, as a number`}
                color={value}
                onChange={onChange}
                onBlur={onSettle}
              />
            </div>
          </FloatingFocusManager>
        </FloatingPortal>
      )}
    </>
  );
}
