import { MessageMap } from './message-map.js';
import type { PageTables } from './page-tables.js';

/** Before anything is described. */
export const NO_MAP = new MessageMap([]);

/** What the messages of a link mean at present: its map, and the onboard page that is on, as far as its messages tell. */
export class PageInUse {
  map: MessageMap = NO_MAP;
  /** Place of the page in the map. */
  page = 0;
  tables: PageTables = NO_MAP.pages[0];

  /** From now on messages mean this. The page stays on where the map has it. */
  use(map: MessageMap): void {
    this.map = map;
    this.turnTo(Math.min(this.page, map.pages.length - 1));
  }

  /** Puts an onboard page on. */
  turnTo(page: number): void {
    this.page = page;
    this.tables = this.map.pages[page];
  }
}
