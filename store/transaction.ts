import type { Knex } from 'knex';

/**
 * All of `work`, or nothing of it. What is thrown is what went wrong in it: where the disk is full SQLite has taken all back
 * by itself already, and the query builder, which wants to do so once more, would say only that it cannot.
 */
export async function inTransaction<T>(
  db: Knex,
  work: (tx: Knex.Transaction) => Promise<T>,
): Promise<T> {
  let cause: { readonly error: unknown } | null = null;
  try {
    return await db.transaction(async (tx) => {
      try {
        return await work(tx);
      } catch (error) {
        cause = { error };
        throw error;
      }
    });
  } catch (error) {
    throw cause === null ? error : (cause as { readonly error: unknown }).error;
  }
}
