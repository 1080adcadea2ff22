/** Where something that floats stands: beside what opens it, within the window, following both. */
import {
  autoUpdate,
  flip,
  offset,
  shift,
  useFloating,
  type Placement,
  type UseFloatingReturn,
} from '@floating-ui/react';

/** `gap` in pixels. Without `follows` it stays where it was opened. */
export function usePopover(o: {
  open: boolean;
  setOpen: (open: boolean) => void;
  placement: Placement;
  gap?: number;
  follows?: boolean;
}): UseFloatingReturn {
  const { open, setOpen, placement, gap = 8, follows = true } = o;
  return useFloating({
    open,
    onOpenChange: setOpen,
    placement,
    whileElementsMounted: follows ? autoUpdate : undefined,
    middleware: [offset(gap), flip({ padding: 6 }), shift({ padding: 6, crossAxis: !follows })],
  });
}
