import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { NamedSheet } from './NamedSheet';

describe('devices by a list', () => {
  it('are selected, and what is not found or named twice is said', async () => {
    const calls = serve({
      'POST /devices/named': {
        found: [
          { id: 'd1', name: 'Kiosk 1', identifier: 'AR10-1' },
          { id: 'd2', name: 'Kiosk 2', identifier: 'AR10-2' },
        ],
        unknown: ['AR10-9'],
        doubled: ['AR10-1'],
        several: ['7'],
      },
    });
    let picked: string[] = [];
    show(<NamedSheet onSelect={(ids) => (picked = ids)} onClose={() => undefined} />);
    fireEvent.change(screen.getByLabelText(/^Serial numbers/), {
      target: { value: 'AR10-1 AR10-1\nAR10-2, AR10-9 7' },
    });
    fireEvent.click(screen.getByText('Find them'));
    fireEvent.click(await screen.findByText('Select 2 devices'));
    expect(picked).toEqual(['d1', 'd2']);
    expect(calls[0]!.body).toEqual({ identifiers: ['AR10-1 AR10-1', 'AR10-2, AR10-9 7'] });
    expect(screen.getByRole('status').textContent).toMatch(
      /2 devices found\..*No managed device has: AR10-9.*More than one device has: 7.*taken once: AR10-1/,
    );
  });
});
