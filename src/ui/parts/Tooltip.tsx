'use client';
/** Tooltips and menus that keep inside the window, by floating-ui: shown on hover and on focus, gone with Esc. */
import {
  FloatingFocusManager,
  FloatingPortal,
  useClick,
  useDismiss,
  useFocus,
  useHover,
  useInteractions,
  useListNavigation,
  useRole,
  type Placement,
} from '@floating-ui/react';
import { cloneElement, useLayoutEffect, useRef, useState, type ReactElement, type ReactNode, type Ref } from 'react';
import { usePopover } from './popover';

type Child = ReactElement<Record<string, unknown> & { ref?: Ref<Element> }>;

const SHOW_AFTER = 450;

export function Tooltip({
  content,
  placement = 'top',
  children,
}: {
  content: ReactNode;
  placement?: Placement;
  children: Child;
}) {
  const [open, setOpen] = useState(false);
  const { refs, floatingStyles, context } = usePopover({ open, setOpen, placement });
  const { getReferenceProps, getFloatingProps } = useInteractions([
    useHover(context, { move: false, delay: { open: SHOW_AFTER } }),
    useFocus(context),
    useDismiss(context, { ancestorScroll: true, referencePress: true }),
    useRole(context, { role: 'tooltip' }),
  ]);
  return (
    <>
      {cloneElement(children, getReferenceProps({ ref: refs.setReference, ...children.props }))}
      {open && (
        <FloatingPortal>
          <div
            ref={refs.setFloating}
            style={floatingStyles}
            {...getFloatingProps()}
            className="z-50 max-w-64 rounded-box bg-tool px-3 py-2 text-[12px] leading-[17px] text-tool-ink shadow-lg"
          >
            {content}
          </div>
        </FloatingPortal>
      )}
    </>
  );
}

export interface MenuItem {
  id: string;
  /** Stands over the first of those that have the same. */
  heading?: string;
  label: ReactNode;
  icon?: ReactNode;
  /** Shown at its right. */
  aside?: ReactNode;
  /** Why it cannot be done now. */
  disabled?: string | boolean;
  run(): void;
}

const MENU =
  'menu menu-sm z-40 w-max min-w-44 flex-nowrap overflow-y-auto rounded-box border border-line bg-base-100 p-1 ' +
  'text-base-content shadow-lg outline-none';

const COLUMNS = '!block w-[min(660px,94vw)] columns-3 gap-x-2 [&>li]:break-inside-avoid';

interface MenuListProps {
  items: readonly MenuItem[];
  close: () => void;
  active: number | null;
  setActive: (i: number | null) => void;
  list: React.RefObject<(HTMLElement | null)[]>;
  itemProps: (p: Record<string, unknown>) => Record<string, unknown>;
}

/** A list of things to do: arrows go through it, letters jump, Esc closes. */
function MenuList({ items, close, active, setActive, list, itemProps }: MenuListProps) {
  return items.map((item, i) => (
    <li
      key={item.id}
      role="none"
      // In columns, what stands under one heading stays in one.
      className={
        `${item.disabled ? 'menu-disabled' : ''} ` +
        `${item.heading && item.heading === items[i + 1]?.heading ? 'break-after-avoid' : ''}`
      }
    >
      {item.heading && item.heading !== items[i - 1]?.heading && (
        <span className="menu-title px-2 pb-0.5 pt-1.5 text-[11px] font-semibold" role="presentation">
          {item.heading}
        </span>
      )}
      <button
        role="menuitem"
        ref={(el) => {
          list.current[i] = el;
        }}
        tabIndex={active === i ? 0 : -1}
        aria-disabled={item.disabled ? true : undefined}
        title={typeof item.disabled === 'string' ? item.disabled : undefined}
        {...itemProps({
          onClick: () => {
            if (item.disabled) return;
            setActive(null);
            close();
            item.run();
          },
        })}
      >
        {item.icon}
        <span className="flex-1">{item.label}</span>
        {item.aside}
      </button>
    </li>
  ));
}

/** The list afloat, where its owner has placed it. */
function MenuPanel({
  label,
  context,
  style,
  panelProps,
  initialFocus,
  columns,
  ...list
}: MenuListProps & {
  columns?: boolean;
  label: string;
  context: ReturnType<typeof usePopover>['context'];
  style: React.CSSProperties;
  panelProps: Record<string, unknown>;
  initialFocus?: number;
}) {
  return (
    <FloatingPortal>
      <FloatingFocusManager context={context} modal={false} initialFocus={initialFocus}>
        <ul
          ref={context.refs.setFloating}
          style={style}
          className={columns ? `${MENU} ${COLUMNS}` : MENU}
          aria-label={label}
          {...panelProps}
        >
          <MenuList {...list} />
        </ul>
      </FloatingFocusManager>
    </FloatingPortal>
  );
}

/** A button that opens a menu. */
export function MenuButton({
  items,
  label,
  placement = 'bottom-end',
  columns,
  children,
}: {
  items: readonly MenuItem[];
  label: string;
  placement?: Placement;
  /** Of many things: side by side, in columns. */
  columns?: boolean;
  children: Child;
}) {
  const [open, setOpen] = useState(false);
  const [active, setActive] = useState<number | null>(null);
  const list = useRef<(HTMLElement | null)[]>([]);
  const { refs, floatingStyles, context } = usePopover({ open, setOpen, placement, gap: 4 });
  const { getReferenceProps, getFloatingProps, getItemProps } = useInteractions([
    useClick(context),
    useDismiss(context),
    useRole(context, { role: 'menu' }),
    useListNavigation(context, { listRef: list, activeIndex: active, onNavigate: setActive, loop: true }),
  ]);
  return (
    <>
      {cloneElement(children, {
        ...getReferenceProps({
          ref: refs.setReference,
          ...children.props,
          onClick: (e: React.MouseEvent) => e.stopPropagation(),
        }),
        'aria-label': label,
      })}
      {open && (
        <MenuPanel
          label={label}
          context={context}
          style={floatingStyles}
          panelProps={getFloatingProps({
            onClick: (e) => e.stopPropagation(),
            onPointerDown: (e) => e.stopPropagation(),
            onKeyDown: (e) => e.stopPropagation(),
          })}
          columns={columns}
          items={items}
          close={() => setOpen(false)}
          active={active}
          setActive={setActive}
          list={list}
          itemProps={getItemProps}
        />
      )}
    </>
  );
}

/** A menu at a point of the window: what a right click opens. */
export function MenuAt({
  x,
  y,
  items,
  label,
  close,
}: {
  x: number;
  y: number;
  items: readonly MenuItem[];
  label: string;
  close: () => void;
}) {
  const [active, setActive] = useState<number | null>(0);
  const list = useRef<(HTMLElement | null)[]>([]);
  const setOpen = (open: boolean) => {
    if (!open) close();
  };
  const { refs, floatingStyles, context } = usePopover({
    open: true,
    setOpen,
    placement: 'bottom-start',
    gap: 0,
    follows: false,
  });
  useLayoutEffect(() => {
    refs.setPositionReference({ getBoundingClientRect: () => new DOMRect(x, y, 0, 0) });
  }, [refs, x, y]);
  const { getFloatingProps, getItemProps } = useInteractions([
    useDismiss(context),
    useRole(context, { role: 'menu' }),
    useListNavigation(context, { listRef: list, activeIndex: active, onNavigate: setActive, loop: true }),
  ]);
  return (
    <MenuPanel
      label={label}
      context={context}
      initialFocus={0}
      style={floatingStyles}
      panelProps={getFloatingProps({
        onPointerDown: (e) => e.stopPropagation(),
        onKeyDown: (e) => {
          if (e.key === 'Escape') close();
          e.stopPropagation();
        },
      })}
      items={items}
      close={close}
      active={active}
      setActive={setActive}
      list={list}
      itemProps={getItemProps}
    />
  );
}
