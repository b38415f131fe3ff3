import type { World } from '@rondo/core/standin';
import type { FromWorker } from './protocol';

/** What the page is told whenever it has changed: layers and flags, what happened on links, set-ups, texts. */
export class Tellings {
  private textVersion = -1;
  private sessionVersion = -1;
  private noticeVersion = -1;
  private wishVersion = 0;
  private isHeldOff = false;

  constructor(private readonly post: (message: FromWorker) => void) {}

  /** Another plan plays: all is told anew, but what a control has asked for. */
  anew(): void {
    this.textVersion = this.sessionVersion = this.noticeVersion = -1;
  }

  /** Tells what has changed. */
  tell({ engine }: World): void {
    if (engine.sessionVersion !== this.sessionVersion) {
      this.sessionVersion = engine.sessionVersion;
      this.post({ kind: 'session', state: engine.session() });
    }
    if (engine.holdOff !== this.isHeldOff) {
      this.isHeldOff = engine.holdOff;
      this.post({ kind: 'held off', on: engine.holdOff });
    }
    if (engine.notices.version !== this.noticeVersion) {
      this.noticeVersion = engine.notices.version;
      this.post({ kind: 'notices', list: engine.notices.list() });
    }
    if (engine.setUps.version === this.wishVersion) return;
    this.wishVersion = engine.setUps.version;
    this.post({ kind: 'set up', id: engine.setUps.last });
  }

  /** Texts are rare and go as such, whenever one has changed. */
  tellTexts(world: World): void {
    const { engine } = world;
    let version = engine.textVersion;
    for (const desk of world.desks.values()) version += desk.textVersion;
    if (version === this.textVersion) return;
    this.textVersion = version;
    const displays = engine.plan.links.flatMap((link) => world.desks.get(link.key)?.texts ?? []);
    this.post({ kind: 'texts', displays, slots: [...engine.beliefs.text] });
  }
}
