/** Nothing to read is smaller, in pixels. */
export const LEAST_TEXT = 10;

/** What looks as if it could be clicked and does not get its click at its middle, and texts that nobody can read. */
export function faults(least: number): string[] {
  const playable =
    'button, a[href], select, input, [role=button], [role=slider], [role=tab], [role=switch], [role=checkbox], [role=radio]';
  const name = (e: Element) => (e.getAttribute('aria-label') ?? e.textContent).trim().slice(0, 40);
  const found: string[] = [];
  const gets = (e: Element) => {
    const box = e.getBoundingClientRect();
    const hit = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    return hit && (e.contains(hit) || hit.contains(e) || hit.closest('label')?.contains(e));
  };
  for (const e of document.querySelectorAll<HTMLButtonElement>(playable)) {
    const box = e.getBoundingClientRect();
    const style = getComputedStyle(e);
    if (box.width < 4 || box.height < 4 || e.disabled || style.pointerEvents === 'none') continue;
    if (style.visibility === 'hidden' || e.closest('.visually-hidden')) continue;
    if (gets(e)) continue;
    // It may be further down a list that is scrolled.
    e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    if (!gets(e)) found.push(`no click gets to: ${name(e)}`);
  }
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let text = texts.nextNode(); text; text = texts.nextNode()) {
    const e = text.parentElement as Element;
    const box = e.getBoundingClientRect();
    if (!text.textContent?.trim() || box.width < 2 || e.closest('.visually-hidden')) continue;
    const matrix = (e as SVGGraphicsElement).getScreenCTM?.();
    const scale = matrix ? Math.hypot(matrix.a, matrix.b) : 1;
    const size = parseFloat(getComputedStyle(e).fontSize) * scale;
    if (size < least - 0.05) found.push(`${size.toFixed(1)} px: ${text.textContent.trim()}`);
  }
  const { scrollWidth, clientWidth } = document.documentElement;
  if (scrollWidth > clientWidth) found.push('the page is wider than its window');
  return found;
}
