import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';

const word = (key: string) => ({ key, title: key.replace('-', ' '), help: '' });

/** The catalogue's words for how devices are managed, whose they are and what kinds there are. */
export const words = {
  modes: ['supervised', 'standard', 'work-profile'].map(word),
  ownerships: ['corporate', 'personal'].map(word),
  kinds: ['phone', 'tablet', 'laptop'].map(word),
};

/** What answers the page's calls. */
export const standIn = {
  fetch: (request: Request): Promise<Response> =>
    Promise.reject(new TypeError(`no service for ${request.url}`)),
};

/** A call the page made. */
export interface Call {
  method: string;
  path: string;
  query: URLSearchParams;
  body: unknown;
  headers: Headers;
}

type Answer = unknown | ((call: Call) => unknown);

/** An answer that is a problem. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly kind: string,
    readonly detail: string,
    readonly more: object = {},
  ) {}
}

/**
 * Stands in for the service: answers `METHOD /path` with a value, with what a function of the call
 * gives, or with a problem, and keeps every call.
 */
export function serve(answers: Record<string, Answer>): Call[] {
  const calls: Call[] = [];
  const all: Record<string, Answer> = { 'GET /me/lists': {}, ...answers };
  standIn.fetch = async (request) => {
    const url = new URL(request.url);
    const text = await request.text();
    const call = {
      method: request.method,
      path: url.pathname.replace('/api/v1', ''),
      query: url.searchParams,
      body: /^(text\/csv|application\/octet-stream)/.test(request.headers.get('Content-Type') ?? '')
        ? text
        : text
          ? JSON.parse(text)
          : undefined,
      headers: request.headers,
    };
    calls.push(call);
    const known = all[`${call.method} ${call.path}`];
    if (known === undefined) {
      throw new Error(`no answer for ${call.method} ${call.path}`);
    }
    const value = typeof known === 'function' ? known(call) : known;
    if (value instanceof Refusal) {
      const problem = {
        type: `https://pinwright.example/problems/${value.kind}`,
        title: value.kind,
        status: value.status,
        detail: value.detail,
        ...value.more,
      };
      return new Response(JSON.stringify(problem), { status: value.status });
    }
    return new Response(JSON.stringify(value), { status: 200 });
  };
  return calls;
}

function Address({ tell }: { tell: (address: string) => void }) {
  const place = useLocation();
  tell(place.pathname + place.search);
  return null;
}

/** Shows part of the console at an address; tells where the address went. */
export function show(what: ReactNode, at = '/') {
  const address = { now: at };
  const view = render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={[at]}>
        {what}
        <Address tell={(a) => (address.now = a)} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return { ...view, address };
}
