import { act, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
describe('a service that is away', () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('is told, asked for every two seconds, and gone on with when it is back', async () => {
    // as it is when the page is opened, whatever other tests lost
    vi.resetModules();
    const { gone, useAway, whenBack } = await import('./away');
    const Says = () => <p data-testid="away">{useAway()}</p>;
    let well = false;
    const asked = vi.fn(() => Promise.resolve({ ok: well }));
    vi.stubGlobal('fetch', asked);
    const back = vi.fn();
    const stop = whenBack(back);
    render(<Says />);
    act(() => gone('The database is away.'));
    act(() => gone('The database is away.'));
    expect(screen.getByTestId('away').textContent).toBe('The database is away.');
    await act(() => vi.advanceTimersByTimeAsync(6_100));
    expect(asked).toHaveBeenCalledTimes(3);
    expect(back).not.toHaveBeenCalled();
    well = true;
    await act(() => vi.advanceTimersByTimeAsync(2_000));
    expect(screen.getByTestId('away').textContent).toBe('');
    expect(back).toHaveBeenCalledOnce();
    stop();
  });
});
