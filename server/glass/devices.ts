import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';
import * as z from 'zod';
import { CODE_LENGTH, CODE_LETTERS } from '@rondo/core/wire';
import { readSetting, writeSetting } from '@rondo/store';
import { WrongCodes } from './limits.js';

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
const MOST_DEVICES = 32;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

interface Code {
  /** What it is called where it may not be read itself. */
  readonly id: string;
  readonly surface: string;
  readonly until: number;
}

/** Tablets and phones that may show a surface: let in once by a code, then remembered until they are sent away. */
export class GlassDevices {
  private devices: GlassDevice[] = [];
  private readonly codes = new Map<string, Code>();
  private readonly wrong = new WrongCodes();

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
  makeCode(surface: string): {
    readonly code: string;
    readonly id: string;
    readonly seconds: number;
  } {
    const code = Array.from(
      { length: CODE_LENGTH },
      () => CODE_LETTERS[randomInt(CODE_LETTERS.length)],
    ).join('');
    const id = randomBytes(12).toString('hex');
    this.codes.set(code, { id, surface, until: this.now() + CODE_LIFE_MS });
    for (const [old] of this.codes) if (this.codes.size > MOST_CODES) this.codes.delete(old);
    return { code, id, seconds: CODE_LIFE_MS / 1_000 };
  }

  /** The codes that still let somebody in, by their ids. */
  get goodCodes(): string[] {
    return [...this.codes.values()].flatMap(({ id, until }) => (until >= this.now() ? [id] : []));
  }

  /**
   * Lets in who has a code. It is judged before the database is asked; where that cannot be written, nobody is let in and the
   * code is as good as before.
   * @param address from which it comes
   * @returns its id and secret, or why it is not let in
   * @throws where the database cannot be written just now
   */
  async pair(
    database: () => Promise<Knex>,
    address: string,
    code: string,
    name: string,
  ): Promise<{ id: string; secret: string } | 'code' | 'pause' | 'full'> {
    if (await this.wrong.isPaused(address)) return 'pause';
    const wanted = code.trim().toUpperCase();
    const known = this.codes.get(wanted);
    if (!known || known.until < this.now()) {
      const { here, inAll } = await this.wrong.count(address);
      // Whoever guesses so much may have come close to one of them.
      if (inAll) this.codes.clear();
      return here || inAll ? 'pause' : 'code';
    }
    if (this.devices.length >= MOST_DEVICES) return 'full';
    const secret = randomBytes(32).toString('base64url');
    const device: GlassDevice = {
      id: randomBytes(12).toString('hex'),
      name: name.trim() || 'A device',
      surface: known.surface,
      hash: hashOf(secret),
      pairedAt: new Date(this.now()).toISOString(),
    };
    // From here on it is used; two that come with it at once are not both let in.
    this.codes.delete(wanted);
    this.devices = [...this.devices, device];
    try {
      await this.write(database);
    } catch (error) {
      this.devices = this.devices.filter(({ id }) => id !== device.id);
      this.codes.set(wanted, known);
      throw error;
    }
    return { id: device.id, secret };
  }

  /** The device of an id and its secret; undefined for anybody else. */
  find(id: string, secret: string): GlassDevice | undefined {
    const device = this.devices.find((one) => one.id === id);
    const given = Buffer.from(hashOf(secret), 'hex');
    return device && timingSafeEqual(given, Buffer.from(device.hash, 'hex')) ? device : undefined;
  }

  /** Sends a device away; false where it is not there. */
  async revoke(database: () => Promise<Knex>, id: string): Promise<boolean> {
    const gone = this.devices.find((one) => one.id === id);
    if (!gone) return false;
    this.devices = this.devices.filter((one) => one !== gone);
    try {
      await this.write(database);
    } catch (error) {
      this.devices = [...this.devices, gone];
      throw error;
    }
    return true;
  }

  /** Writes the devices as they are once it is their turn: of two changes the later one holds both. */
  private async write(database: () => Promise<Knex>): Promise<void> {
    await writeSetting(await database(), NAME, this.devices);
  }
}
