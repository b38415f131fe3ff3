import { Injectable } from '@angular/core';
import { z } from 'zod';
import { readProfile, type Profile } from '@rondo/core/profile';

const summarySchema = z.object({
  id: z.string(),
  name: z.string(),
  revision: z.number(),
  updatedAt: z.string(),
});
export type ProfileSummary = z.infer<typeof summarySchema>;
const listSchema = z.object({ profiles: z.array(summarySchema) });
const openedSchema = z.object({
  revision: z.number(),
  updatedAt: z.string(),
  profile: z.unknown(),
});
const savedSchema = z.object({ revision: z.number() });
const problemSchema = z.object({
  title: z.string(),
  detail: z.string(),
  revision: z.number().optional(),
  faults: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
});

export interface Opened {
  readonly revision: number;
  readonly profile: Profile;
}

/** What went wrong with a request: `away` where the server did not answer at all. */
export class ApiError extends Error {
  constructor(
    readonly kind: 'away' | 'stale' | 'missing' | 'refused',
    message: string,
    /** Newest revision on the server, where the save was stale. */
    readonly revision?: number,
  ) {
    super(message);
  }
}

async function call(method: string, path: string, body?: unknown): Promise<unknown> {
  let answer: Response;
  try {
    answer = await fetch(`/api/profiles${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch {
    throw new ApiError('away', 'The server does not answer.');
  }
  if (answer.status === 204) return null;
  const content: unknown = await answer.json().catch(() => null);
  if (answer.ok) return content;
  const problem = problemSchema.safeParse(content);
  // Anything that does not speak as our server does is not our server.
  if (!problem.success || answer.status >= 500)
    throw new ApiError('away', 'The server does not answer as it should.');
  const { title, detail, revision, faults } = problem.data;
  const where = (faults ?? []).map((fault) => ` ${fault.path}: ${fault.message}.`).join('');
  const kind =
    answer.status === 404 ? 'missing' : answer.status === 409 && revision ? 'stale' : 'refused';
  throw new ApiError(kind, `${title}. ${detail}${where}`, revision);
}

/** An id for a new profile. */
export const freshId = (): string => `p-${crypto.randomUUID()}`;

/** Profiles on the server. Every call throws {@link ApiError} where it fails. */
@Injectable({ providedIn: 'root' })
export class Api {
  async list(): Promise<ProfileSummary[]> {
    return listSchema.parse(await call('GET', '')).profiles;
  }

  async open(id: string): Promise<Opened> {
    const { revision, profile } = openedSchema.parse(
      await call('GET', `/${encodeURIComponent(id)}`),
    );
    const result = readProfile(profile);
    if (!result.ok)
      throw new ApiError(
        'refused',
        result.faults.map((fault) => `${fault.path}: ${fault.message}`).join('; '),
      );
    return { revision, profile: result.profile };
  }

  async create(profile: Profile): Promise<void> {
    await call('POST', '', { profile });
  }

  async save(profile: Profile, revision: number): Promise<number> {
    const path = `/${encodeURIComponent(profile.id)}`;
    return savedSchema.parse(await call('PUT', path, { revision, profile })).revision;
  }

  async remove(id: string): Promise<void> {
    await call('DELETE', `/${encodeURIComponent(id)}`);
  }

  async restore(id: string): Promise<void> {
    await call('POST', `/${encodeURIComponent(id)}/restore`);
  }
}
