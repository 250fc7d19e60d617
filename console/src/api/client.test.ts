import { describe, expect, it, vi } from 'vitest';
import { Refusal, serve, standIn } from '../testing/service';
import { answer, api, carry, ProblemError, words } from './client';
import { live } from './live';

describe('calling the service', () => {
  it('carries the CSRF value with changes and not with reading', async () => {
    const calls = serve({ 'GET /groups': { items: [] }, 'POST /groups': {} });
    carry('token');
    await answer(api.GET('/groups'));
    await answer(api.POST('/groups', { body: { name: 'Glasshouse' } }));
    expect(calls.map((c) => c.headers.get('X-CSRF'))).toEqual([null, 'token']);
  });

  it('turns a problem into an error with its words and its kind', async () => {
    serve({ 'POST /groups': new Refusal(409, 'name-taken', 'There is a group called Glasshouse.') });
    const failed = answer(api.POST('/groups', { body: { name: 'Glasshouse' } }));
    await expect(failed).rejects.toThrow('There is a group called Glasshouse.');
    await failed.catch((e: ProblemError) => expect(e.kind).toBe('name-taken'));
  });

  it('says that the service cannot be reached', async () => {
    standIn.fetch = () => Promise.reject(new TypeError('refused'));
    await answer(api.GET('/groups')).catch((e) => expect(words(e)).toContain('cannot be reached'));
    expect.assertions(1);
  });
});

describe('live events', () => {
  it('make stale what they are about, and everything after a pause', () => {
    let tell: (e: { data: string }) => void = () => {};
    vi.stubGlobal(
      'EventSource',
      class {
        addEventListener(_: string, listener: typeof tell) {
          tell = listener;
        }
        close() {}
      },
    );
    const invalidateQueries = vi.fn();
    live({ invalidateQueries } as never);
    tell({ data: 'groups,journal' });
    expect(invalidateQueries.mock.calls.flat()).toEqual([
      { queryKey: ['groups'] },
      { queryKey: ['journal'] },
    ]);
    tell({ data: 'everything' });
    expect(invalidateQueries).toHaveBeenLastCalledWith();
  });
});
