import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show, type Call } from '../testing/service';
import { KitParts } from './KitParts';

const part = (profile: string, name: string, publishedVersion?: number): Schemas['KitPart'] => ({
  profile,
  name,
  publishedVersion,
  whenInOrder: false,
});
const dim = part('p1', 'Dim', 3);
const fresh = part('p2', 'Fresh');

function kit(value: Schemas['KitPart'][]) {
  const change = vi.fn<(parts: Schemas['KitPart'][]) => void>();
  serve({
    'GET /profiles': (call: Call) => ({
      items:
        call.query.get('kind') === 'app'
          ? [{ id: 'a1', kind: 'app', name: 'Rota for all', publishedVersion: 2 }]
          : [
              { id: 'p1', name: 'Dim', publishedVersion: 3 },
              { id: 'p3', name: 'Guest Wi-Fi', publishedVersion: 1 },
            ],
    }),
  });
  show(<KitParts value={value} onChange={change} />);
  return change;
}

describe('what goes along with a kit', () => {
  it('says what goes along now and what does not yet', () => {
    kit([dim, fresh]);
    expect(screen.getByText('Dim').getAttribute('href')).toBe('/rules/profiles/p1');
    expect(screen.getByText(/version 3 goes along/)).toBeTruthy();
    expect(screen.getByText(/nothing goes along until it is/)).toBeTruthy();
  });

  it('can be only for devices in order, or be taken out', () => {
    const change = kit([dim, fresh]);
    fireEvent.change(screen.getByLabelText('Who gets Dim'), { target: { value: 'in-order' } });
    expect(change).toHaveBeenCalledWith([{ ...dim, whenInOrder: true }, fresh]);
    fireEvent.click(screen.getByLabelText('Take Fresh out'));
    expect(change).toHaveBeenLastCalledWith([dim]);
  });

  it('is found by name, and nothing twice', async () => {
    const change = kit([dim]);
    const find = screen.getByLabelText('Find a profile to go along');
    fireEvent.focus(find);
    fireEvent.change(find, { target: { value: 'g' } });
    const option = await screen.findByText('Guest Wi-Fi');
    expect(screen.getAllByRole('option')).toHaveLength(2);
    expect(screen.getByText('Rota for all')).toBeTruthy();
    fireEvent.mouseDown(option);
    fireEvent.mouseUp(option);
    fireEvent.click(option);
    expect(change).toHaveBeenCalledWith([dim, part('p3', 'Guest Wi-Fi', 1)]);
  });
});
