import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless/index.mjs';

setupZonelessTestEnv();

// The document of the tests has no screen, so no question about one is answered with yes.
window.matchMedia = (media) =>
  Object.assign(new EventTarget(), {
    media,
    matches: false,
    onchange: null,
    addListener: () => undefined,
    removeListener: () => undefined,
  });
// Nor does anything scroll.
Element.prototype.scrollIntoView = () => undefined;
// The document of the tests has no copies as browsers make them (HTML, structured data): all that is copied here is JSON.
globalThis.structuredClone ??= <T>(value: T): T =>
  value === undefined ? value : (JSON.parse(JSON.stringify(value)) as T);
