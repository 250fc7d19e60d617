import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { CasePage } from './CasePage';
import { LostNote, ReportLost, type Lost } from './lost';
import { LostPage } from './LostPage';

const lost: Lost = {
  ...{ id: 'k1', version: 3, deviceId: 'd1', device: 'Lighthouse phone', personal: false, state: 'open' },
  ...{ holder: 'Dana Ridgewell', what: 'left on the ferry', lockText: '', lockPhone: '', everyMinutes: 10 },
  ...{ openedAt: '2026-03-02T09:00:00Z', openedBy: 'tova', words: '', overdue: false },
};
const at = (minute: number) => `2026-03-02T09:${String(minute).padStart(2, '0')}:00Z`;
const point = (minute: number) => ({
  ...{ at: at(minute), latitude: 47.2, longitude: -20.3, accuracy: 12, source: 'wifi' },
});
const service = (role: string) => ({
  'GET /me': { account: { role } },
  'GET /catalogue': { commands: [] },
  'GET /cases/k1': lost,
  'GET /cases/k1/timeline': {
    items: [
      { at: at(9), kind: 'told', by: 'tova', text: 'The ferry office' },
      { at: at(1), kind: 'heard', by: 'pinwright', text: 'It is heard' },
    ],
  },
  'GET /wipes': { items: [] },
  'GET /sites': { items: [] },
  'POST /devices/d1/trail': { items: [point(9), point(5), point(1)] },
});
const page = (
  <Routes>
    <Route path="/devices/lost/:id" element={<CasePage />} />
  </Routes>
);

describe('a case', () => {
  it('tells what happened, takes what is written down, and is ended with how', async () => {
    const calls = serve({
      ...service('operator'),
      'POST /cases/k1/notes': { items: [] },
      'PUT /cases/k1/end': { ...lost, state: 'found' },
    });
    show(page, '/devices/lost/k1');
    const happened = within(await screen.findByRole('list', { name: 'What happened' }));
    expect(await happened.findByText('The ferry office')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Write something down'), { target: { value: 'Rang the keeper' } });
    fireEvent.click(screen.getByLabelText('It says who was told'));
    fireEvent.click(screen.getByText('Write down'));
    await waitFor(() =>
      expect(calls.find((c) => c.path === '/cases/k1/notes')?.body).toEqual({
        text: 'Rang the keeper',
        told: true,
      }),
    );
    fireEvent.click(await screen.findByText('It was found'));
    const end = screen.getByText('Put everything back') as HTMLButtonElement;
    expect(end.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('How it ended'), { target: { value: 'Under the counter' } });
    fireEvent.click(end);
    await waitFor(() => expect(calls.some((c) => c.path === '/cases/k1/end')).toBe(true));
    const ended = calls.find((c) => c.path === '/cases/k1/end')!;
    expect(ended.body).toEqual({ found: true, words: 'Under the counter', wipe: false, retire: false });
    expect(ended.headers.get('If-Match')).toBe('"3"');
  });

  it('shows the way moment by moment', async () => {
    serve(service('operator'));
    show(page, '/devices/lost/k1');
    const slider = (await screen.findByLabelText('Moment')) as HTMLInputElement;
    expect(slider.max).toBe('2');
    fireEvent.change(slider, { target: { value: '0' } });
    expect(screen.getByText(/09:01:00, ± 12 m, wifi|:01:00, ± 12 m, wifi/)).toBeTruthy();
    expect(screen.getByRole('region', { name: 'Way of Lighthouse phone' })).toBeTruthy();
  });

  it('keeps from a helpdesk where it was, and giving it up', async () => {
    const calls = serve(service('helpdesk'));
    show(page, '/devices/lost/k1');
    expect(await screen.findByText('It was found')).toBeTruthy();
    expect(screen.queryByText('Give it up')).toBeNull();
    expect(screen.getByText(/Where it was is for operators/)).toBeTruthy();
    expect(calls.some((c) => c.path.endsWith('/trail'))).toBe(false);
  });

  it('says of a personal device that nobody asks where it is', async () => {
    serve({ ...service('operator'), 'GET /cases/k1': { ...lost, personal: true, everyMinutes: undefined } });
    show(page, '/devices/lost/k1');
    expect(await screen.findByText(/never asked for, kept or shown/)).toBeTruthy();
    expect(screen.queryByText('Locate now')).toBeNull();
  });
});

describe('a report', () => {
  const device = { id: 'd1', name: 'Lighthouse phone', ownership: 'corporate' } as never;

  it('says what happened and how often it is asked, and says why it is refused', async () => {
    const calls = serve({
      'POST /cases': new Refusal(409, 'case-open', 'A case of Lighthouse phone is open already.'),
      'GET /sites': {
        items: [
          {
            id: 's1',
            name: 'Tollen point',
            outline: [
              [1, 1],
              [2, 1],
              [2, 2],
            ],
          },
          { id: 's2', name: 'Bare rock', outline: [] },
        ],
      },
    });
    show(<ReportLost device={device} onClose={() => undefined} />);
    fireEvent.change(screen.getByLabelText('What happened'), { target: { value: 'left on the ferry' } });
    fireEvent.change(screen.getByLabelText(/^Missing since/), {
      target: { value: '2026-11-29T16:40' },
    });
    fireEvent.change(screen.getByLabelText('Asked where it is'), { target: { value: '2' } });
    await screen.findByText('at Tollen point');
    expect(screen.queryByText('at Bare rock')).toBeNull();
    fireEvent.change(screen.getByLabelText(/^Rings by itself/), { target: { value: 's1' } });
    fireEvent.click(screen.getByText('Report it and lock it'));
    expect(await screen.findByText('A case of Lighthouse phone is open already.')).toBeTruthy();
    expect(calls.find((c) => c.method === 'POST')!.body).toMatchObject({
      deviceId: 'd1',
      what: 'left on the ferry',
      everyMinutes: 2,
      lostAt: new Date('2026-11-29T16:40').toISOString(),
      ringSiteId: 's1',
    });
  });

  it('stands on the card of its device, and in the list', async () => {
    serve({ 'GET /cases': { items: [{ ...lost, overdue: true }] } });
    show(<LostNote device={device} />);
    expect(await screen.findByText(/left on the ferry/)).toBeTruthy();
    show(<LostPage />);
    expect(await screen.findByText('being looked for, for over a week')).toBeTruthy();
  });
});
