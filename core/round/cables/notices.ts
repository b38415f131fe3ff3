/** What a notice is about. */
export type NoticeKind =
  /** A greeting of the Mackie-style protocol: how it went. */
  | 'greeting'
  /** A program that expects a desk has not spoken yet. */
  | 'silent'
  | 'twins'
  | 'wrongUnit'
  | 'brokenText'
  | 'textSpills'
  | 'noLamp'
  | 'hearsItself'
  | 'cycle'
  | 'cable'
  | 'twice'
  /** More goes on to a link than its cable takes. */
  /** A second set-up was asked for at once. */
  | 'setUps'
  | 'crowded'
  /** An OSC message that cannot be read, or means too much. */
  | 'strangeOsc'
  /** A SysEx that takes its time, or is too long. */
  | 'longSysex';

/** Something that a link has done and its owner should know, in a sentence. */
export interface Notice {
  readonly kind: NoticeKind;
  /** Key of the link. */
  readonly link: string;
  readonly says: string;
  /** It is in the way of something; else it is only told. */
  readonly bad: boolean;
  /** How often it has happened. */
  readonly count: number;
  /** When it happened last, µs. */
  readonly at: number;
}

/** What has happened on links, one notice for each kind and link: what happens again is counted. */
export class Notices {
  /** Counts changes. */
  version = 0;
  private readonly all = new Map<string, Notice>();

  constructor(private readonly clock: Float64Array) {}

  say(kind: NoticeKind, link: string, says: string, bad = true): void {
    const key = `${kind} ${link}`;
    const before = this.all.get(key);
    const count = before?.says === says ? before.count + 1 : 1;
    this.all.set(key, { kind, link, says, bad, count, at: this.clock[0] });
    this.version++;
  }

  has(kind: NoticeKind, link: string): boolean {
    return this.all.has(`${kind} ${link}`);
  }

  /** What a link is not any more, as when its cable is changed. */
  forget(link: string, kinds?: readonly NoticeKind[]): void {
    for (const [key, notice] of this.all)
      if (notice.link === link && (kinds?.includes(notice.kind) ?? true)) {
        this.all.delete(key);
        this.version++;
      }
  }

  /** All of them, the newest first. */
  list(): Notice[] {
    return [...this.all.values()].sort((a, b) => b.at - a.at);
  }
}
