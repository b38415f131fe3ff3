import { Injectable } from '@angular/core';

const GROUPS = '[role=radiogroup], [role=tablist]';
const ITEMS = '[role=radio], [role=tab]';

/** Which of a group an arrow key goes to, round at the ends; −1 for another key. */
export function nextOf(key: string, at: number, count: number): number {
  switch (key) {
    case 'ArrowRight':
    case 'ArrowDown':
      return (at + 1) % count;
    case 'ArrowLeft':
    case 'ArrowUp':
      return (at + count - 1) % count;
    case 'Home':
      return 0;
    case 'End':
      return count - 1;
    default:
      return -1;
  }
}

/**
 * What holds for every group of which one is chosen, wherever it stands: it is one stop of Tab, at what is chosen, and
 * arrows choose (ARIA Authoring Practices, radio group and tabs).
 */
@Injectable({ providedIn: 'root' })
export class ArrowGroups {
  constructor() {
    document.addEventListener('focusin', (event) => this.entered(event));
    document.addEventListener('keydown', (event) => this.onKey(event));
  }

  private entered({ target, relatedTarget }: FocusEvent): void {
    const found = groupOf(target);
    if (!found) return;
    const { group, items, item } = found;
    const chosen = items.find((one) => isChosen(one));
    const isFromOutside = relatedTarget instanceof Node && !group.contains(relatedTarget);
    const stop = chosen && isFromOutside && item.matches(':focus-visible') ? chosen : item;
    for (const one of items) one.tabIndex = one === stop ? 0 : -1;
    if (stop !== item) stop.focus();
  }

  private onKey(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    const found = groupOf(event.target);
    if (!found) return;
    const { items, item } = found;
    const next = nextOf(event.key, items.indexOf(item), items.length);
    if (next < 0) return;
    event.preventDefault();
    items[next].focus();
    items[next].click();
  }
}

function isChosen(item: HTMLElement): boolean {
  return item.ariaChecked === 'true' || item.ariaSelected === 'true';
}

function groupOf(
  target: EventTarget | null,
): { group: HTMLElement; items: HTMLElement[]; item: HTMLElement } | null {
  // Native radios and the library's own groups know this already.
  if (!(target instanceof HTMLButtonElement)) return null;
  const item = target.closest<HTMLElement>(ITEMS);
  const group = item?.closest<HTMLElement>(GROUPS);
  if (!item || !group) return null;
  const items = [...group.querySelectorAll<HTMLButtonElement>(ITEMS)].filter(
    (one) => !one.disabled,
  );
  return { group, items, item };
}
