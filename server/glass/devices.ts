import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';
import * as z from 'zod';
import { CODE_LENGTH, CODE_LETTERS } from '@rondo/core/wire';
import { readSetting, writeSetting } from '@rondo/store';

const NAME = 'glass';
const deviceSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Id of the surface that it shows. */
  surface: z.string(),
  /** SHA-256 of its secret, as hex: what the database holds lets nobody in. */
  hash: z.string(),
  pairedAt: z.string(),
});
export type GlassDevice = z.infer<typeof deviceSchema>;
const devicesSchema = z.array(deviceSchema);

/** How long a code is good, ms, and how many codes wait at once. */
const CODE_LIFE_MS = 5 * 60_000;
const MOST_CODES = 8;
/** So many wrong codes end all codes, and for so long none is taken, ms. */
const MOST_WRONG = 10;
const PAUSE_MS = 60_000;
const MOST_DEVICES = 32;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Tablets and phones that may show a surface: let in once by a code, then remembered until they are sent away. */
export class GlassDevices {
  private devices: GlassDevice[] = [];
  private readonly codes = new Map<string, { readonly surface: string; readonly until: number }>();
  private wrong = 0;
  private pausedUntil = 0;

  /** @param now ms, of any clock that goes on */
  constructor(private readonly now: () => number = Date.now) {}

  async load(db: Knex): Promise<void> {
    const known = devicesSchema.safeParse(await readSetting(db, NAME));
    this.devices = known.success ? known.data : [];
  }

  list(): readonly GlassDevice[] {
    return this.devices;
  }

  /** A code that lets one device in to one surface, once and soon. */
  makeCode(surface: string): { readonly code: string; readonly seconds: number } {
    const code = Array.from(
      { length: CODE_LENGTH },
      () => CODE_LETTERS[randomInt(CODE_LETTERS.length)],
    ).join('');
    this.codes.set(code, { surface, until: this.now() + CODE_LIFE_MS });
    for (const [old] of this.codes) if (this.codes.size > MOST_CODES) this.codes.delete(old);
    return { code, seconds: CODE_LIFE_MS / 1_000 };
  }

  /**
   * Lets in who has a code.
   * @returns its id and secret, or why it is not let in
   */
  async pair(
    db: Knex,
    code: string,
    name: string,
  ): Promise<{ id: string; secret: string } | 'code' | 'pause' | 'full'> {
    const now = this.now();
    if (now < this.pausedUntil) return 'pause';
    const known = this.codes.get(code);
    if (!known || known.until < now) {
      if (++this.wrong < MOST_WRONG) return 'code';
      this.wrong = 0;
      this.codes.clear();
      this.pausedUntil = now + PAUSE_MS;
      return 'pause';
    }
    if (this.devices.length >= MOST_DEVICES) return 'full';
    this.codes.delete(code);
    this.wrong = 0;
    const secret = randomBytes(32).toString('base64url');
    const device: GlassDevice = {
      id: randomBytes(12).toString('hex'),
      name: name.trim() || 'A device',
      surface: known.surface,
      hash: hashOf(secret),
      pairedAt: new Date(now).toISOString(),
    };
    this.devices = [...this.devices, device];
    await writeSetting(db, NAME, this.devices);
    return { id: device.id, secret };
  }

  /** The device of an id and its secret; undefined for anybody else. */
  find(id: string, secret: string): GlassDevice | undefined {
    const device = this.devices.find((one) => one.id === id);
    const given = Buffer.from(hashOf(secret), 'hex');
    return device && timingSafeEqual(given, Buffer.from(device.hash, 'hex')) ? device : undefined;
  }

  /** Sends a device away; false where it is not there. */
  async revoke(db: Knex, id: string): Promise<boolean> {
    const left = this.devices.filter((one) => one.id !== id);
    if (left.length === this.devices.length) return false;
    this.devices = left;
    await writeSetting(db, NAME, left);
    return true;
  }
}
