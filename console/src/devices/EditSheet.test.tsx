import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { EditSheet, type EditKind } from './EditSheet';

const rehearsal = {
  devices: 2,
  changing: 1,
  examples: [{ id: 'd1', name: 'Kiosk 001', before: 'no tags', after: 'quay' }],
  told: [],
};

function sheet(kind: EditKind, answers: Record<string, unknown>) {
  const calls = serve({
    'GET /tags': { gallery: 3 },
    'GET /units': [],
    'GET /sites': { items: [] },
    ...answers,
  });
  const close = vi.fn();
  show(
    <EditSheet kind={kind} whom={{ devices: ['d1', 'd2'], count: 2 }} called="2 devices" onClose={close} />,
  );
  return { calls, close };
}

const type = (label: RegExp, text: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });

describe('editing many devices', () => {
  it('shows what it would do before it can be done, and does it once', async () => {
    const { calls, close } = sheet('tag', {
      'POST /device-edits/rehearsal': rehearsal,
      'POST /device-edits': {},
    });
    const button = () => screen.getByRole('button', { name: /^Tag/ }) as HTMLButtonElement;
    expect(button().disabled).toBe(true);
    type(/Give them/, 'quay, till');
    await screen.findByText('Kiosk 001');
    expect(screen.getByTestId('edit-rehearsal').textContent).toContain('1 of them are so already');
    await waitFor(() => expect(button().disabled).toBe(false));
    fireEvent.click(button());
    await waitFor(() => expect(close).toHaveBeenCalled());
    const done = calls.filter((c) => c.path === '/device-edits');
    expect(done).toHaveLength(1);
    expect(done[0]!.body).toMatchObject({ ids: ['d1', 'd2'], addTags: ['quay', 'till'] });
  });

  it('leaves alone what nobody chose, and takes away what somebody chose to', async () => {
    const { calls } = sheet('place', { 'POST /device-edits/rehearsal': rehearsal });
    type(/^Unit/, '');
    await screen.findByText('Kiosk 001');
    const asked = calls.find((c) => c.path === '/device-edits/rehearsal')!;
    expect(asked.body).toEqual({ ids: ['d1', 'd2'], unitId: '' });
  });

  it('asks for the number before it retires several', async () => {
    sheet('retire', { 'POST /device-edits/rehearsal': { ...rehearsal, changing: 2, confirmDevices: 2 } });
    type(/Reason/, 'sold');
    const typed = await screen.findByLabelText(/Type 2/);
    const button = screen.getByRole('button', { name: /^Retire/ }) as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    fireEvent.change(typed, { target: { value: '2' } });
    await waitFor(() => expect(button.disabled).toBe(false));
  });

  it('says why a pattern cannot be', async () => {
    sheet('rename', {
      'POST /device-edits/rehearsal': new Refusal(400, 'malformed', 'A name pattern knows {serial}.'),
    });
    type(/Name pattern/, '{colour}');
    expect(await screen.findByText(/A name pattern knows/)).toBeTruthy();
  });
});
