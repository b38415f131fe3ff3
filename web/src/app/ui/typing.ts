/** Inputs that no text goes into. */
const NO_TEXT = new Set(['checkbox', 'radio', 'range', 'color', 'button']);

/** Whether a key goes into a field, and so is none of our shortcuts. A list takes letters, and no commands. */
export function isTyping(event: KeyboardEvent): boolean {
  const { target } = event;
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLSelectElement) return !(event.ctrlKey || event.metaKey);
  if (target instanceof HTMLInputElement) return !NO_TEXT.has(target.type);
  return target.isContentEditable || target instanceof HTMLTextAreaElement;
}
