/** Whether the tour was taken in this browser. */
const SEEN = 'glypta-tour';

/** A browser that is driven by a program has no newcomer before it. */
export function tourSeen(): boolean {
  try {
    return navigator.webdriver || localStorage.getItem(SEEN) !== null;
  } catch {
    return true;
  }
}

export function noteTour(): void {
  try {
    localStorage.setItem(SEEN, '1');
  } catch {
    /* then it comes again */
  }
}
