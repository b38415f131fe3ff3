import type { Draft } from 'immer';
import { edit, type Edited } from '@rondo/core/document';
import { rowIdOf, type HostRow, type MessageHost } from './message-host.js';

/** Adds rows at the end, with ids that are free. */
export const addRows = (host: MessageHost, rows: readonly HostRow[]): Edited<MessageHost> =>
  edit(host, rows.length === 1 ? `Add ${rows[0].name}` : `Add ${rows.length} rows`, (draft) => {
    const taken = new Set(draft.rows.map(({ id }) => id));
    for (const row of rows) {
      const id = taken.has(row.id) ? rowIdOf(row.name, taken) : row.id;
      taken.add(id);
      draft.rows.push({ ...row, id });
    }
  });

/** Changes a message host under a name by which it can be undone. */
export const changeHost = (
  host: MessageHost,
  name: string,
  recipe: (draft: Draft<MessageHost>) => void,
): Edited<MessageHost> => edit(host, name, recipe);

/** A new row at the end of a chart: the controller after the last. */
export function nextRow({ rows }: MessageHost): HostRow {
  const last = rows.at(-1)?.message;
  const free = last?.type === 'controller' && last.number < 119 ? last.number + 1 : 20;
  const channel = last && 'channel' in last ? last.channel : 1;
  const taken = new Set(rows.map(({ id }) => id));
  const name = `Parameter ${rows.length + 1}`;
  return {
    id: rowIdOf(name, taken),
    name,
    kind: 'continuous',
    message: { type: 'controller', channel, number: free },
    feedback: 'same',
  };
}
