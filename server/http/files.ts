import { join } from 'node:path';
import Router from '@koa/router';
import type { Knex } from 'knex';
import * as z from 'zod';
import { FILE_KINDS, fileText, partsOf, readFileValue } from '@rondo/core/formats';
import {
  ChangedError,
  DamagedError,
  DocumentStore,
  KINDS,
  MissingError,
  NewerDatabaseError,
  backUpFolder,
  backupFolder,
  backupsOf,
  exportFile,
  importFile,
  takeBack,
  type LiveDatabase,
} from '@rondo/store';
import { noteAllChanged, noteChanged } from './events.js';
import { NOTHING, answerOnce, json } from './once.js';
import { Problem } from './problem.js';

const clashSchema = z.enum(['new', 'replace']).optional();
const idSchema = z.string().regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]{0,63}$/);
const takenSchema = z.object({
  documents: z
    .array(
      z.object({
        id: idSchema,
        kind: z.enum(FILE_KINDS),
        did: z.enum(['new', 'replaced', 'same', 'refused']),
        revision: z.int().min(1).optional(),
        replaced: z.int().min(1).optional(),
      }),
    )
    .max(5_000),
});
/** What is taken back is told as it was told when it came. */
const backSchema = takenSchema;
const kindSchema = z.enum(KINDS);

/** Files that come and go, the bin, and backups. */
export function fileRoutes(db: Knex, folder: string, live: Pick<LiveDatabase, 'restore'>): Router {
  const router = new Router({ prefix: '/api' });

  /** Rondo’s file: of some profiles with what they use, or of everything. */
  router.get('/files', async (ctx) => {
    const asked = [ctx.query['profile'] ?? []].flat();
    const ids = z.array(idSchema).max(1_000).safeParse(asked);
    if (!ids.success)
      throw new Problem(400, 'Request not understood', 'A profile’s id is not one.');
    try {
      const { file, leftOut } = await exportFile(db, ids.data.length > 0 ? ids.data : undefined);
      ctx.type = 'application/json';
      // Beside the file, which holds nothing but what can be read again.
      if (leftOut.length > 0)
        ctx.set('Rondo-Left-Out', encodeURIComponent(JSON.stringify(leftOut.slice(0, 20))));
      ctx.body = fileText(file);
    } catch (error) {
      if (error instanceof MissingError) throw new Problem(404, 'No such profile', error.message);
      throw error;
    }
  });

  /** Takes a file in, whole or not at all; `dry` only says what would be done. */
  router.post('/files', async (ctx) => {
    const clash = clashSchema.safeParse(ctx.query['as']);
    if (!clash.success)
      throw new Problem(400, 'Request not understood', 'as is new or replace, or is left out.');
    const read = readFileValue(ctx.request.body);
    if (!read.ok)
      throw new Problem(422, 'File refused', 'The file has faults; nothing was changed.', {
        faults: read.faults.slice(0, 100),
      });
    const [part] = partsOf(read.file);
    if (part !== undefined)
      throw new Problem(
        422,
        'File refused',
        `The file holds the ${part}, which is taken into a document in the page; nothing was changed.`,
      );
    if (ctx.query['dry'] !== undefined) {
      ctx.body = { documents: await importFile(db, read.file, clash.data, true) };
      return;
    }
    const reply = await answerOnce(ctx, db, async (tx) =>
      json(200, { documents: await importFile(tx, read.file, clash.data, false) }),
    );
    const { documents } = takenSchema.parse(JSON.parse(reply.body ?? ''));
    const taken = documents.filter(({ did }) => did === 'new' || did === 'replaced');
    noteChanged(
      ctx,
      ...taken.map(({ kind, id, revision }) => ({
        kind,
        id,
        cause: 'imported' as const,
        ...(revision !== undefined && { revision }),
      })),
    );
  });

  /** Takes back what reading a file did, whole or not at all. */
  router.post('/files/back', async (ctx) => {
    const asked = backSchema.safeParse(ctx.request.body);
    if (!asked.success)
      throw new Problem(400, 'Request not understood', 'It names what was read, as it was told.');
    try {
      await answerOnce(ctx, db, async (tx) => {
        await takeBack(tx, asked.data.documents);
        return NOTHING;
      });
      const back = asked.data.documents.filter(({ did }) => did === 'new' || did === 'replaced');
      noteChanged(ctx, ...back.map(({ kind, id }) => ({ kind, id, cause: 'takenBack' as const })));
    } catch (error) {
      if (error instanceof ChangedError)
        throw new Problem(409, 'Not taken back', `${error.message} Nothing was changed.`);
      throw error;
    }
  });

  /** What was deleted, and can be brought back. */
  router.get('/bin', async (ctx) => {
    const lists = await Promise.all(
      KINDS.map(async (kind) =>
        (await new DocumentStore(db, kind).bin()).map((one) => ({ kind, ...one })),
      ),
    );
    ctx.body = {
      documents: lists.flat().sort((a, b) => (a.deletedAt < b.deletedAt ? 1 : -1)),
    };
  });
  router.delete('/bin/:kind/:id', async (ctx) => {
    const kind = kindSchema.safeParse(ctx.params['kind']);
    const id = idSchema.safeParse(ctx.params['id']);
    if (!kind.success || !id.success || !(await new DocumentStore(db, kind.data).purge(id.data)))
      throw new Problem(404, 'Not in the bin', 'It was brought back or removed meanwhile.');
    ctx.status = 204;
  });

  router.get('/backups', (ctx) => {
    ctx.body = { backups: backupsOf(folder) };
  });
  /** Puts a backup in the place of the database. */
  router.post('/backups/:name/restore', async (ctx) => {
    const found = backupsOf(folder).find(({ name }) => name === ctx.params['name']);
    if (!found)
      throw new Problem(404, 'No such backup', 'It was taken away meanwhile. Choose another.');
    try {
      await live.restore(join(backupFolder(folder), found.name));
      noteAllChanged(ctx);
    } catch (error) {
      if (error instanceof DamagedError || error instanceof NewerDatabaseError)
        throw new Problem(422, 'Not restored', `${error.message} Nothing was changed.`);
      throw error;
    }
    ctx.status = 204;
  });
  router.post('/backups', async (ctx) => {
    try {
      ctx.body = await backUpFolder(folder);
      ctx.status = 201;
    } catch (error) {
      if (error instanceof DamagedError || error instanceof NewerDatabaseError)
        throw new Problem(507, 'No backup was made', error.message);
      throw error;
    }
  });
  return router;
}
