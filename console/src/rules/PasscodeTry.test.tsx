import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { type Call, serve, show } from '../testing/service';
import { PasscodeTry } from './PasscodeTry';

describe('trying a passcode', () => {
  it('says what devices would say, against what is written and not saved', async () => {
    const calls = serve({
      'POST /passcode-trial': (call: Call) => ({
        demand: 'no runs',
        objections:
          (call.body as { passcode: string }).passcode === '123456' ? ['No runs such as 111 or 123.'] : [],
      }),
    });
    show(<PasscodeTry settings={{ 'passcode.no-runs': true, 'wifi[a].passphrase': 'secret' }} />);
    const field = screen.getByLabelText('Try a passcode');
    fireEvent.change(field, { target: { value: '123456' } });
    expect(await screen.findByText(/No runs such as/)).toBeTruthy();
    expect(calls[0]!.body).toEqual({ passcode: '123456', settings: { 'passcode.no-runs': true } });
    fireEvent.change(field, { target: { value: '135790' } });
    expect(await screen.findByText(/Devices take it/)).toBeTruthy();
    fireEvent.change(field, { target: { value: '' } });
    expect(screen.getByRole('status').textContent).toBe('');
  });
});
