import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show, words } from '../testing/service';
import { Remind } from './Remind';

describe('reminding holders', () => {
  it('writes to all that the rule finds, with words that can be changed', async () => {
    const calls = serve({
      'GET /catalogue': {
        ...words,
        platforms: [],
        commands: [
          {
            key: 'message',
            title: 'Send message',
            help: '',
            holder: '',
            danger: 'none',
            cost: '',
            reasonRequired: false,
            modes: [],
            ownerships: [],
            fields: [
              {
                key: 'text',
                title: 'Message',
                type: { kind: 'text', min: 1, max: 500, multiline: true },
                required: true,
                corporateOnly: [],
                spoken: false,
              },
            ],
          },
        ],
      },
      'POST /dispatches/rehearsal': { devices: 9, able: 9, unable: [], losses: [], demands: [] },
      'POST /dispatches': {},
    });
    show(<Remind rule="passcode is overdue" count={6} called="passcodes that are overdue" />);
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Remind their holders' });
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    const text = await screen.findByLabelText<HTMLTextAreaElement>(/Message/);
    expect(text.value).toContain('choose a new passcode');
    fireEvent.change(text, { target: { value: 'Please choose.' } });
    fireEvent.click(await screen.findByRole('button', { name: 'Send message: 9 devices' }));
    await waitFor(() => expect(calls.some((c) => c.path === '/dispatches')).toBe(true));
    expect(calls.find((c) => c.path === '/dispatches')!.body).toMatchObject({
      command: 'message',
      fields: { text: 'Please choose.' },
      matching: { rule: 'passcode is overdue' },
    });
  });
});
