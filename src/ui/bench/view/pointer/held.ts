/** Keys that are held while the pointer is used. */
export const held = { space: false };

const isControl = (t: EventTarget | null) =>
  t instanceof HTMLInputElement || t instanceof HTMLButtonElement || t instanceof HTMLTextAreaElement;

/** Watches the space bar; answers how to stop. */
export function watchSpace(): () => void {
  const key = (e: KeyboardEvent) => {
    if (e.code !== 'Space' || isControl(e.target)) return;
    held.space = e.type === 'keydown';
    if (held.space) e.preventDefault();
  };
  window.addEventListener('keydown', key);
  window.addEventListener('keyup', key);
  return () => {
    window.removeEventListener('keydown', key);
    window.removeEventListener('keyup', key);
  };
}
