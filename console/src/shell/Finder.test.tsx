import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import { serve, show, words, type Call } from '../testing/service';
import { BrokenPage } from './BrokenPage';
import { Finder } from './Finder';

const catalogue = {
  ...words,
  ...{ platforms: [], sections: [], settings: [], facts: [], firstRunScreens: [] },
  commands: [{ key: 'lock', title: 'Lock', help: 'Locks the screen.', fields: [] }],
};

/** Types words and waits for what is to be found. */
async function type(words: string, found: string) {
  fireEvent.change(screen.getByLabelText('Find anything'), { target: { value: words } });
  return (await screen.findByText(found)).closest('[role=option]')!;
}

/** Goes down to an entry by the arrow keys and takes it. */
function choose(entry: Element) {
  const field = screen.getByLabelText('Find anything');
  for (let i = 0; i < 40 && field.getAttribute('aria-activedescendant') !== entry.id; i++) {
    fireEvent.keyDown(field, { key: 'ArrowDown' });
  }
  fireEvent.keyDown(field, { key: 'Enter' });
}

describe('the search that is always at hand', () => {
  it('finds things to do before anything is typed', async () => {
    serve({ 'GET /catalogue': catalogue });
    const { address } = show(<Finder onClose={() => undefined} />, '/today');
    choose(await type('gatew', 'Gateways'));
    await waitFor(() => expect(address.now).toBe('/house/gateways'));
  });

  it('finds what the service knows, and leads to it', async () => {
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /search': [
        { kind: 'site', id: 's1', name: 'Norhaven quay', detail: '' },
        { kind: 'tag', id: 'on show', name: 'on show', detail: '3 devices' },
      ],
    });
    const closed = vi.fn();
    const { address } = show(<Finder onClose={closed} />, '/today');
    const tag = await type('show', 'on show');
    expect(screen.getByText('tag, 3 devices')).toBeTruthy();
    expect(calls.at(-1)!.query.get('q')).toBe('show');
    choose(tag);
    await waitFor(() => expect(address.now).toBe('/devices/tags?card=on%20show'));
    expect(closed).toHaveBeenCalled();
  });

  it('offers to do what was typed, to devices or to the one that was named', async () => {
    serve({
      'GET /catalogue': catalogue,
      'GET /search': (c: Call) =>
        c.query.get('kind') === 'device'
          ? [{ kind: 'device', id: 'd1', name: 'Quay door', detail: 'T10' }]
          : [],
    });
    const { address } = show(<Finder onClose={() => undefined} />, '/today');
    expect(await type('lock', 'Lock devices …')).toBeTruthy();
    choose(await type('lock quay', 'Lock Quay door'));
    await waitFor(() => expect(address.now).toBe('/devices/d1?order=lock'));
  });

  it('says when nothing has the words', async () => {
    serve({ 'GET /catalogue': catalogue, 'GET /search': [] });
    show(<Finder onClose={() => undefined} />, '/today');
    fireEvent.change(screen.getByLabelText('Find anything'), { target: { value: 'zeppelin' } });
    expect(await screen.findByText('Nothing has these words.')).toBeTruthy();
  });
});

describe('a page that fails', () => {
  it('is stood in for, and says what it said', async () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const Fails = () => {
      throw new Error('no such place');
    };
    const router = createMemoryRouter([{ path: '/', element: <Fails />, errorElement: <BrokenPage /> }]);
    render(<RouterProvider router={router} />);
    expect(await screen.findByText('This page stopped working.')).toBeTruthy();
    expect(screen.getByText(/no such place/)).toBeTruthy();
    expect(screen.getByText('Open it again')).toBeTruthy();
    vi.restoreAllMocks();
  });
});
