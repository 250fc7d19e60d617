import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show, type Call } from '../testing/service';
import { TodayPage } from '../today/TodayPage';
import { DirectoryPage } from './DirectoryPage';
import { GatewaysPage } from './GatewaysPage';
import { MailPage } from './MailPage';
import { SetUpPage } from './SetUpPage';

const gateway = (platform: string, name: string, more: object = {}) => ({
  platform,
  name,
  makers: ['Maker of Tarn'],
  services: 'https://127.0.0.1:7491/tarn',
  push: { state: 'missing', devices: 0 },
  registrar: { state: 'missing', registered: 0, assigned: 0 },
  store: { state: 'missing' },
  ...more,
});
const lapsing = {
  push: {
    state: 'lapsing',
    account: 'it@vellmar.example',
    topic: 'tarn.1',
    expiresAt: '2026-12-13T10:00:00Z',
    daysLeft: 19,
    devices: 148,
    request: '-----BEGIN CERTIFICATE REQUEST-----',
  },
};

describe('the set-up list', () => {
  it('says what is done, what is missing and what comes first', async () => {
    const step = (key: string, title: string, state: string, more: object = {}) => ({
      ...{ key, title, state, detail: `${key} detail`, blockedBy: [], blocks: 'nothing works', link: '/x' },
      ...more,
    });
    serve({
      'GET /set-up': [
        step('services moor', "Moor: the vendor's services", 'missing'),
        step('push moor', 'Moor: push credential', 'blocked', { blockedBy: ['services moor'] }),
        step('mail', 'Outgoing mail', 'done'),
      ],
    });
    show(<SetUpPage />, '/house/set-up');
    expect(await screen.findByText('2 of 3 steps to look at')).toBeTruthy();
    expect(screen.getByText("First: the vendor's services.")).toBeTruthy();
    expect(screen.getAllByText('Without it: nothing works.')).toHaveLength(2);
    expect(screen.getByRole('heading', { name: 'The house' })).toBeTruthy();
  });
});

describe('gateways', () => {
  it('take a signed credential, and say why another account is refused', async () => {
    const calls = serve({
      'GET /gateways': [gateway('tarn', 'Tarn', lapsing), gateway('moor', 'Moor')],
      'GET /enrollment-profiles': { items: [] },
      'PUT /gateways/tarn/push/credential': new Refusal(409, 'another-account', '148 devices would be lost.'),
    });
    show(<GatewaysPage />, '/house/gateways');
    expect(await screen.findByText('lapses soon')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Signed credential (PEM)'), { target: { value: 'PEM' } });
    fireEvent.click(screen.getByText('Take this credential'));
    expect((await screen.findByRole('alert')).textContent).toContain('148 devices would be lost.');
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({ certificate: 'PEM' });
    expect(screen.getByText('Download it').getAttribute('href')).toContain('BEGIN%20CERTIFICATE%20REQUEST');
  });

  it('choose how devices of the registrar join', async () => {
    const registrar = { state: 'connected', account: 'it@x', registered: 8, assigned: 5 };
    const calls = serve({
      'GET /gateways': [gateway('tarn', 'Tarn', { registrar })],
      'GET /enrollment-profiles': {
        items: [
          { id: 'p1', name: 'Kiosks', platforms: ['tarn'] },
          { id: 'p2', name: 'Laptops', platforms: ['moor'] },
        ],
      },
      'PUT /gateways/tarn/registrar/profile': {},
    });
    show(<GatewaysPage />, '/house/gateways?open=tarn');
    await screen.findByText('Kiosks');
    expect(screen.queryByText('Laptops')).toBeNull();
    fireEvent.change(screen.getByLabelText(/They join by/), { target: { value: 'p1' } });
    await waitFor(() => expect(calls.some((c) => c.method === 'PUT')).toBe(true));
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({ profileId: 'p1' });
  });
});

describe('mail', () => {
  it('is tried before it is kept', async () => {
    const calls = serve({
      'GET /mail': { state: 'missing', secretKept: false },
      'PUT /mail': new Refusal(502, 'mail-failed', "Couldn't connect to host."),
    });
    show(<MailPage />, '/house/mail');
    fireEvent.change(await screen.findByLabelText('Mail server'), { target: { value: '127.0.0.1' } });
    fireEvent.change(screen.getByLabelText('Letters come from'), { target: { value: 'it@vellmar.example' } });
    fireEvent.click(screen.getByText('Send a letter to try it, and keep'));
    expect((await screen.findByRole('alert')).textContent).toContain("Couldn't connect");
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({
      host: '127.0.0.1',
      from: 'it@vellmar.example',
      security: 'none',
      port: 25,
    });
  });
});

describe('the staff directory', () => {
  it('brings people and names units that are not known', async () => {
    serve({
      'GET /directory': {
        state: 'connected',
        secretKept: true,
        settings: { address: 'ldap://d:389', base: 'dc=x', login: '', unitAttribute: 'ou', roots: '' },
      },
      'GET /directory/groups': ['office'],
      'POST /directory/reading': (c: Call) => ({
        ...{ found: 90, added: 2, changed: 1, gone: 0, unknownUnits: ['VM-FAR'] },
        ...(c.query.get('confirmLeaving') === '40'
          ? { gone: 40, examples: [] }
          : { leaving: 40, examples: ['Bo Skarnes'] }),
      }),
    });
    show(<DirectoryPage />, '/house/directory');
    expect(await screen.findByText('office')).toBeTruthy();
    fireEvent.click(screen.getByText('Bring people now'));
    expect((await screen.findByRole('status')).textContent).toContain('Units not known here: VM-FAR.');
    expect((await screen.findByRole('alert')).textContent).toContain('such as Bo Skarnes');
    fireEvent.click(screen.getByText('All 40 have left'));
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  });
});

describe('notices', () => {
  it('stand on Today until they are put away', async () => {
    const calls = serve({
      'GET /fleet': { total: 0, online: 0, byStanding: {}, byPlatform: {} },
      'GET /arrivals': { items: [] },
      'GET /devices': { items: [] },
      'GET /journal': { items: [] },
      'GET /notices': {
        items: [
          {
            id: 'n1',
            title: 'Push credential of tarn lapses in 19 days',
            detail: 'Renew it.',
            link: '/house/gateways?open=tarn',
            urgent: false,
            at: '2026-11-23T10:00:00Z',
          },
        ],
      },
      'DELETE /notices/n1': {},
    });
    show(<TodayPage />, '/today');
    expect(await screen.findByText('Push credential of tarn lapses in 19 days')).toBeTruthy();
    fireEvent.click(screen.getByText('Put away'));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
  });
});
