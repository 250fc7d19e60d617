import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Effects } from '../rules/RehearsalSheet';
import { serve, show } from '../testing/service';
import { FindInStore } from './FindInStore';
import { lasts, LicensesOf, Pool } from './licenses';
import { RedeemCodes } from './RedeemCodes';

const pool: Schemas['LicensePool'] = {
  ...{ id: 'l1', version: 3, appId: 'a1', app: 'Lumen Reader', platform: 'tarn', licensing: 'by-device' },
  ...{ sold: true, place: 'Tollen', owned: 14, used: 14, free: 0, elsewhere: 2, coming: 1, lacking: 4 },
  daysLeft: 0,
};

describe('a license pool', () => {
  it('says what is used, what the portal gave away, and that none is left', () => {
    serve({ 'GET /sites': { items: [] } });
    show(<Pool pool={pool} />);
    expect(screen.getByRole('img', { name: '14 of 14 used, 2 of them in the portal' })).toBeTruthy();
    expect(screen.getByText('1 on their way; 2 given away in the portal; none left')).toBeTruthy();
    expect(screen.queryByText('Move some')).toBeNull();
    expect(lasts({ ...pool, daysLeft: 9 })).toBe('9 days at this rate');
    expect(lasts({ ...pool, daysLeft: undefined })).toBe('');
  });

  it('goes to the devices of a site, and gives to another place what is free', async () => {
    const calls = serve({
      'GET /sites': { items: [{ id: 's1', name: 'Tollen' }] },
      'PATCH /license-pools/l1': pool,
      'POST /license-pools/l1/moves': pool,
    });
    show(<Pool pool={{ ...pool, used: 10, free: 4 }} />);
    await screen.findByRole('option', { name: 'Tollen' });
    fireEvent.change(screen.getByLabelText('For the devices of'), { target: { value: 's1' } });
    await waitFor(() => expect(calls.find((c) => c.method === 'PATCH')?.body).toEqual({ siteId: 's1' }));
    expect(calls.find((c) => c.method === 'PATCH')!.headers.get('If-Match')).toBe('"3"');
    fireEvent.click(screen.getByText('Move some'));
    fireEvent.change(screen.getByLabelText(/To the place/), { target: { value: 'Ulby' } });
    fireEvent.change(screen.getByLabelText('How many'), { target: { value: '5' } });
    expect((screen.getByText('Move 5 licenses') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('How many'), { target: { value: '4' } });
    fireEvent.click(screen.getByText('Move 4 licenses'));
    await waitFor(() =>
      expect(calls.find((c) => c.path === '/license-pools/l1/moves')?.body).toEqual({
        place: 'Ulby',
        number: 4,
      }),
    );
  });

  it('is told with the app: who goes without, and that it is no longer sold', async () => {
    serve({ 'GET /license-pools': { items: [pool] }, 'GET /sites': { items: [] } });
    show(
      <LicensesOf
        app="a1"
        side={{ platform: 'tarn', licensing: 'by-device', prices: {}, sold: false, lacking: 4 }}
      />,
    );
    expect(screen.getByText('4 devices without.')).toBeTruthy();
    expect(screen.getByText(/No longer sold/)).toBeTruthy();
    expect(await screen.findByText('Tollen')).toBeTruthy();
  });
});

describe('a store', () => {
  it('is searched by country, and what is not sold there cannot be added', async () => {
    const calls = serve({
      'GET /gateways': [{ platform: 'tarn', name: 'Tarn', store: { state: 'connected' } }],
      'GET /gateways/tarn/store/countries': {
        items: [
          { code: 'XV', name: 'Vellmar' },
          { code: 'XA', name: 'Ander Isles' },
        ],
      },
      'GET /gateways/tarn/store/apps': {
        items: [
          {
            id: 'lumen.reader',
            name: 'Lumen Reader',
            licensing: 'by-device',
            price: '4.50 crowns',
            countries: [],
          },
          { id: 'lumen.atlas', name: 'Lumen Atlas', licensing: 'free', countries: ['XA'] },
        ],
      },
      'POST /gateways/tarn/store/apps': { app: { id: 'a1' } },
    });
    const added = vi.fn();
    show(<FindInStore onAdded={added} onClose={vi.fn()} />);
    expect(await screen.findByText('not sold in Vellmar')).toBeTruthy();
    const buttons = screen.getAllByRole('button', { name: 'Add' }) as HTMLButtonElement[];
    expect(buttons.map((b) => b.disabled)).toEqual([false, true]);
    fireEvent.click(buttons[0]);
    await waitFor(() => expect(added).toHaveBeenCalled());
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ id: 'lumen.reader' });
    expect(calls.some((c) => c.query.get('country') === 'XV')).toBe(true);
  });
});

describe('a rehearsal', () => {
  it('names the shortage before it bites', () => {
    serve({});
    show(
      <Effects
        rehearsal={{
          ...{ devices: 18, changing: 18, gain: 18, change: 0, lose: 0, effects: [], conflicts: [] },
          ...{ unsupported: [], reasonWanted: false, secondWanted: false },
          shortages: [{ app: 'Lumen Reader', licensing: 'by-device', wanting: 18, free: 14, lacking: 4 }],
        }}
      />,
    );
    expect(screen.getByText('Lumen Reader is 4 licenses short:')).toBeTruthy();
    expect(screen.getByTestId('shortage').textContent).toContain('18 devices would need one, 14 are free');
  });
});

describe('redemption codes', () => {
  it('are looked at line by line before any is redeemed', async () => {
    let saved = false;
    const calls = serve({
      'GET /apps': { items: [{ id: 'a1', name: 'Lumen Reader' }] },
      'POST /license-pools/codes': () => ({
        good: 2,
        saved,
        faults: [{ line: 4, ends: 'K7Q2', judgement: 'spent' }],
      }),
    });
    show(<RedeemCodes onClose={vi.fn()} />);
    await screen.findByRole('option', { name: 'Lumen Reader' });
    fireEvent.change(screen.getByLabelText('App'), { target: { value: 'a1' } });
    fireEvent.change(screen.getByLabelText(/For the place/), { target: { value: 'Ulby' } });
    fireEvent.change(screen.getByLabelText('Codes'), { target: { value: 'AAAA-1\nBBBB-2' } });
    fireEvent.click(screen.getByText('Look at the codes'));
    expect(await screen.findByText('was redeemed before')).toBeTruthy();
    saved = true;
    fireEvent.click(screen.getByText('Redeem 2 codes'));
    await screen.findByText('2 codes redeemed');
    expect(calls.filter((c) => c.method === 'POST').map((c) => (c.body as { save: boolean }).save)).toEqual([
      false,
      true,
    ]);
  });
});
