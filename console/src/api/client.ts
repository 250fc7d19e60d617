import createClient, { type Middleware } from 'openapi-fetch';
import { gone } from './away';
import type { components, paths } from './schema.gen';

export type Schemas = components['schemas'];

/** What the server says when something is not possible (RFC 9457). */
export class ProblemError extends Error {
  readonly problem: Schemas['Problem'];

  constructor(problem: Schemas['Problem']) {
    super(problem.detail);
    this.problem = problem;
  }

  /** The end of the problem's type, such as `confirm-devices`. */
  get kind(): string {
    return this.problem.type.split('/').pop() ?? '';
  }
}

let csrf = '';

/** Remembers the value that changes have to carry. */
export function carry(value: string): void {
  csrf = value;
}

const carryCsrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-CSRF', csrf);
    }
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: '/api/v1' });
api.use(carryCsrf);

/** A body that is a sheet, sent as it is: a file is not read into memory first. */
export const asSheet = (sheet: string | File) => ({
  body: sheet as string,
  bodySerializer: (it: string) => it,
  headers: { 'Content-Type': 'text/csv' },
});

/** All of a list that is chosen from, page by page. */
export async function everyPage<T>(
  page: (after?: string) => Promise<{ items: T[]; next?: string }>,
): Promise<{ items: T[] }> {
  const items: T[] = [];
  let after: string | undefined;
  do {
    const one = await page(after);
    items.push(...one.items);
    after = one.next;
  } while (after !== undefined);
  return { items };
}

/** The answer of a call, or a `ProblemError`. */
export async function answer<T>(
  call: Promise<{ data?: T; error?: Schemas['Problem']; response: Response }>,
): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    gone('The service cannot be reached.');
    throw new ProblemError({
      type: 'unreachable',
      title: 'Not reachable',
      status: 0,
      detail: 'The service cannot be reached. Check the connection; this page goes on by itself.',
    });
  }
  if (result.response.status === 503) {
    gone(
      result.error?.type.endsWith('database-away')
        ? "The service's database is away."
        : 'The service is away.',
    );
  }
  if (!result.response.ok) {
    throw new ProblemError(
      result.error ?? {
        type: 'unknown',
        title: 'Not possible',
        status: result.response.status,
        detail: `The service answered ${result.response.status}.`,
      },
    );
  }
  return result.data as T;
}

/** What is wrong, in words. */
export function words(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
