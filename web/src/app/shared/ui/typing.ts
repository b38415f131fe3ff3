/** Inputs that no text goes into. */
const NO_TEXT = new Set(['checkbox', 'radio', 'button', 'color']);
/** What takes letters, arrows or Escape for itself while it has the keyboard. */
const TAKES_KEYS =
  '[role=combobox], [role=listbox], [role=option], [role=menu], [role=menuitem], [role=dialog], [role=spinbutton]';

/** Whether a key goes into a field, list, menu or dialog, and so is none of our shortcuts. */
export function hasKeyboard(event: KeyboardEvent): boolean {
  const { target } = event;
  if (!(target instanceof HTMLElement)) return false;
  // A dialog that is closing may still have the focus, and takes nothing any more.
  if (target.closest('[role=dialog]')?.ariaModal === 'false') return false;
  // A list takes letters, and no commands.
  if (isClosedList(target)) return !(event.ctrlKey || event.metaKey);
  if (target instanceof HTMLInputElement && !NO_TEXT.has(target.type)) return true;
  if (target.isContentEditable || target instanceof HTMLTextAreaElement) return true;
  return target.closest(TAKES_KEYS) !== null;
}

/** A list of choices that is not open: native, or the library's. */
const isClosedList = (target: HTMLElement): boolean =>
  target instanceof HTMLSelectElement ||
  (target.role === 'combobox' &&
    !(target instanceof HTMLInputElement) &&
    target.ariaExpanded !== 'true');
