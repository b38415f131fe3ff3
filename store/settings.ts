import type { Knex } from 'knex';

/** What the owner has set for all of Rondo on this machine, by name; undefined where nothing was. */
export async function readSetting(db: Knex, name: string): Promise<unknown> {
  const row = (await db('setting').where({ name }).first('value')) as { value: string } | undefined;
  return row && (JSON.parse(row.value) as unknown);
}

/** Sets something for all of Rondo on this machine. */
export async function writeSetting(db: Knex, name: string, value: unknown): Promise<void> {
  await db('setting')
    .insert({ name, value: JSON.stringify(value) })
    .onConflict('name')
    .merge();
}
