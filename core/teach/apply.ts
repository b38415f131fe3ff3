import type { Edited } from '@rondo/core/document';
import {
  changeControls,
  type InputPart,
  type OutputPart,
  type Pattern,
  type Surface,
} from '@rondo/core/surface';
import type { Lore } from './settle.js';

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * Writes what a movement has told into a control. Where that differs from what it was thought to send, the device sheet
 * keeps what it asked for, so that the difference can be seen and decided.
 * @param page onboard page that was taught, 0 for the first
 */
export function applyLore(
  surface: Surface,
  controlId: string,
  page: number,
  lore: Lore,
): Edited<Surface> {
  const label = surface.controls.find(({ id }) => id === controlId)?.label ?? controlId;
  return changeControls(surface, `Teach ${label}`, [controlId], (control) => {
    let { sends } = control;
    if (page > 0) {
      const { id } = surface.pages[page - 1];
      control.pages ??= {};
      control.pages[id] ??= { sends: {}, takes: {} };
      sends = control.pages[id].sends;
    }
    const was = { ...sends };
    const wasLatching = control.latching ?? false;
    for (const [part, pattern] of Object.entries(lore.sends) as [InputPart, never][]) {
      const before = was[part];
      if (page === 0 && before && !same(before, pattern)) {
        control.sheet ??= { sends: {} };
        control.sheet.sends[part] ??= before;
      }
      if (!same(before, pattern)) sends[part] = pattern;
      if (control.sheet && same(control.sheet.sends[part], pattern))
        Reflect.deleteProperty(control.sheet.sends, part);
    }
    const takes = page > 0 ? control.pages?.[surface.pages[page - 1].id]?.takes : control.takes;
    if (takes && surface.device.takes)
      for (const [part, pattern] of Object.entries(lore.takes ?? {}) as [OutputPart, Pattern][])
        if (!same(takes[part], pattern)) takes[part] = pattern;
    const pushed = lore.sends.push !== undefined;
    if (pushed && was.push && wasLatching !== lore.latching) {
      control.sheet ??= { sends: {} };
      control.sheet.latching ??= wasLatching;
    }
    if (control.sheet?.latching === lore.latching)
      Reflect.deleteProperty(control.sheet, 'latching');
    if (
      control.sheet &&
      Object.keys(control.sheet.sends).length === 0 &&
      control.sheet.latching === undefined
    )
      Reflect.deleteProperty(control, 'sheet');
    control.kind = lore.kind;
    Reflect.deleteProperty(control, 'silent');
    const set = (key: 'latching' | 'positions' | 'detent' | 'springs', value: unknown) => {
      if (value) Reflect.set(control, key, value);
      else Reflect.deleteProperty(control, key);
    };
    if (pushed) set('latching', lore.latching);
    if (lore.sends.value) {
      set('positions', lore.positions && [...lore.positions]);
      set('detent', lore.detent || (control.detent && lore.kind === control.kind));
      set('springs', lore.springs ?? control.springs);
    }
  });
}
