import { describe, expect, it, vi } from 'vitest';
import { Refusal, serve, standIn, type Call } from '../testing/service';
import { answer, api, carry, everyPage, ProblemError, words } from './client';
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

  it('reads a list that is chosen from to its end', async () => {
    const calls = serve({
      'GET /groups': ({ query }: Call) =>
        query.get('after') === 'c1' ? { items: [{ id: 'g2' }] } : { items: [{ id: 'g1' }], next: 'c1' },
    });
    const { items } = await everyPage((after) =>
      answer(api.GET('/groups', { params: { query: { after } } })),
    );
    expect(items.map((g) => g.id)).toEqual(['g1', 'g2']);
    expect(calls).toHaveLength(2);
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
    const stop = live({ invalidateQueries } as never);
    tell({ data: 'groups,journal' });
    expect(invalidateQueries.mock.calls.flat()).toEqual([
      { queryKey: ['groups'] },
      { queryKey: ['journal'] },
    ]);
    tell({ data: 'everything' });
    expect(invalidateQueries).toHaveBeenLastCalledWith();
    stop();
  });

  it('are let go of by a tab that is not looked at, and taken up again', () => {
    const open = new Set<object>();
    vi.stubGlobal(
      'EventSource',
      class {
        constructor() {
          open.add(this);
        }
        addEventListener() {}
        close() {
          open.delete(this);
        }
      },
    );
    const see = vi.spyOn(document, 'visibilityState', 'get');
    const look = (state: DocumentVisibilityState) => {
      see.mockReturnValue(state);
      document.dispatchEvent(new Event('visibilitychange'));
      return open.size;
    };
    const stop = live({ invalidateQueries: vi.fn() } as never);
    expect(open.size).toBe(1);
    expect(look('hidden')).toBe(0);
    expect(look('visible')).toBe(1);
    expect(look('visible')).toBe(1);
    window.dispatchEvent(new Event('pagehide'));
    expect(open.size).toBe(0);
    expect(look('visible')).toBe(1);
    stop();
    expect(look('visible')).toBe(0);
    see.mockRestore();
  });
});
