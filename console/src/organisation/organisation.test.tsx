import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { BaselineSheet } from '../rules/BaselineSheet';
import { Refusal, serve, show } from '../testing/service';
import { PeoplePage } from './PeoplePage';
import { SiteCache } from './SiteCache';
import { SitesPage } from './SitesPage';
import { UnitsPage } from './UnitsPage';

const unit = (id: string, code: string, depth: number, parentId?: string) => ({
  id,
  version: 2,
  code,
  name: `Unit ${code}`,
  depth,
  parentId,
  devices: 3,
  people: 1,
});
const tree = [unit('u1', 'VM', 0), unit('u2', 'VM-HAR', 1, 'u1'), unit('u3', 'VM-CAFE', 2, 'u2')];
const fill = (label: RegExp | string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe('units', () => {
  it('are made below another, with a code of their own', async () => {
    const calls = serve({ 'GET /units': tree, 'POST /units': tree[1] });
    show(<UnitsPage />, '/devices/units?card=u1');
    fireEvent.click(await screen.findByText('Make a unit below'));
    fill(/Code/, 'VM-TEX');
    fireEvent.change(screen.getAllByLabelText('Name').at(-1)!, { target: { value: 'Textile Mill' } });
    fireEvent.click(screen.getByText('Make unit'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({
      code: 'VM-TEX',
      name: 'Textile Mill',
      parentId: 'u1',
    });
  });

  it('are moved after a rehearsal, never into themselves', async () => {
    const calls = serve({
      'GET /units': tree,
      'POST /units/u2/move/rehearsal': {
        devices: 3,
        changing: 2,
        gain: 2,
        change: 0,
        lose: 0,
        effects: [],
        conflicts: [],
        shortages: [],
        unsupported: [],
      },
      'POST /units/u2/move': tree[1],
    });
    show(<UnitsPage />, '/devices/units?card=u2');
    fireEvent.click(await screen.findByText('Move'));
    const where = screen.getByLabelText('Lies in') as HTMLSelectElement;
    expect([...where.options].map((o) => o.value)).toEqual(['', 'u1']);
    fireEvent.change(where, { target: { value: '' } });
    expect((await screen.findByTestId('rehearsal')).textContent).toContain('2 of 3 devices');
    fireEvent.click(screen.getByText('Move with 3 devices'));
    await waitFor(() => expect(calls.some((c) => c.path === '/units/u2/move')).toBe(true));
    expect(calls.find((c) => c.path === '/units/u2/move')!.headers.get('If-Match')).toBe('"2"');
  });

  it('that are used stay, and say by what', async () => {
    serve({
      'GET /attributes/unit/u2': [],
      'GET /units': tree,
      'DELETE /units/u2': new Refusal(409, 'in-use', 'VM-HAR is still used by 3 devices.'),
    });
    show(<UnitsPage />, '/devices/units?card=u2');
    fireEvent.click(await screen.findByText('Delete'));
    fireEvent.click(await screen.findByText('Yes, delete'));
    expect((await screen.findByRole('alert')).textContent).toBe('VM-HAR is still used by 3 devices.');
  });
});

describe('sites', () => {
  it('take degrees or nothing', async () => {
    const calls = serve({ 'GET /sites': { items: [] }, 'POST /sites': {} });
    show(<SitesPage />, '/devices/sites?new=1');
    fill('Name', 'Norhaven quay');
    fill(/Latitude/, '47.2335');
    fill(/Longitude/, '-20.357');
    fill(/Large above/, '50');
    fill(/packages come in/, 'Mon-Sun 22:00-06:00');
    fireEvent.click(screen.getByText('Make site'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({
      name: 'Norhaven quay',
      address: '',
      largePackages: { aboveMegabytes: 50, hours: 'Mon-Sun 22:00-06:00' },
      latitude: 47.2335,
      longitude: -20.357,
      outline: [],
    });
  });
});

describe('the cache of a site', () => {
  const cache = {
    ...{ siteId: 's1', version: 1, site: 'Skarne ridge', address: 'https://cache.vellmar.example:8443' },
    ...{ working: true, since: '2026-11-29T09:00:00Z', lineBytes: 246_000, servedBytes: 3_280_000 },
  };

  it('says what did not cross the line', async () => {
    serve({ 'GET /site-caches': { items: [cache] } });
    show(<SiteCache site="s1" />);
    expect(await screen.findByText('246 kB over the line')).toBeTruthy();
    expect(screen.getByText('3.0 MB from the cache, 93 %')).toBeTruthy();
  });

  it('is set up by its address, and says why it is not in use', async () => {
    const calls = serve({
      'GET /site-caches': {
        items: [{ ...cache, siteId: 's2', working: false, fault: 'it cannot be reached' }],
      },
      'PUT /sites/s1/cache': cache,
    });
    show(<SiteCache site="s1" />);
    fireEvent.change(await screen.findByLabelText('Where it is to be'), {
      target: { value: 'https://c.vellmar.example' },
    });
    fireEvent.click(screen.getByText('Set up'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'PUT')?.body).toEqual({ address: 'https://c.vellmar.example' }),
    );
    show(<SiteCache site="s2" />);
    expect(await screen.findByText(/Not in use: it cannot be reached/)).toBeTruthy();
  });
});

describe('people', () => {
  it('are added with their unit, and found by unit', async () => {
    const calls = serve({
      'GET /people': { items: [] },
      'GET /units': tree,
      'GET /sites': { items: [] },
      'POST /people': {},
    });
    show(<PeoplePage />, '/devices/people?new=1&unit=u2');
    await screen.findAllByRole('option', { name: /VM-HAR/ });
    expect(calls.find((c) => c.path === '/people')!.query.get('unit')).toBe('u2');
    fill('Name', 'Ines Orrin');
    fireEvent.change(screen.getAllByLabelText('Unit')[0], { target: { value: 'u2' } });
    fireEvent.click(screen.getByText('Add person'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ name: 'Ines Orrin', unitId: 'u2' });
  });
});

describe('somebody who leaves', () => {
  const ines = { id: 'x1', version: 2, name: 'Ines Orrin', devices: 2 };
  const device = (n: number) => ({
    ...{ id: `d${n}`, name: `Quay ${n}`, model: 'T10', ownership: 'corporate', mode: 'standard' },
    ...{ attributes: {}, tags: [], standing: 'settled', platform: 'tarn', kind: 'tablet' },
  });

  it('lets go of every device at once, each its own way', async () => {
    const calls = serve({
      'GET /people': { items: [] },
      'GET /units': tree,
      'GET /sites': { items: [] },
      'GET /people/x1': ines,
      'GET /people/x1/holdings': [],
      'GET /people/x1/leaving': { person: ines, devices: [device(1), device(2)], invitations: 1 },
      'POST /people/x1/leaving': { handedOver: 0, kept: 1, retired: 1, invitations: 1 },
      'GET /attributes': [],
      'GET /attributes/of/person/x1': {},
    });
    const { address } = show(<PeoplePage />, '/devices/people?card=x1');
    fireEvent.click(await screen.findByText('Leaves …'));
    expect(await screen.findByText(/1 open invitation of theirs ends/)).toBeTruthy();
    const leave = () => screen.getByText(/to decide on|Let Ines Orrin leave/) as HTMLButtonElement;
    expect(leave().textContent).toBe('2 devices to decide on');
    fireEvent.click(screen.getByText('Keep all, held by nobody'));
    fireEvent.change(screen.getByLabelText('What becomes of Quay 2'), { target: { value: 'retired' } });
    fireEvent.click(leave());
    await waitFor(() => expect(address.now).toBe('/devices/people'));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({
      takeOut: true,
      devices: [
        { deviceId: 'd1', fate: 'kept' },
        { deviceId: 'd2', fate: 'retired' },
      ],
    });
  });
});

describe('the baseline', () => {
  const baseline = {
    name: 'Baseline',
    settings: [
      { setting: 'passcode.min-length', title: 'Least length', help: 'The fewest characters.', value: 6 },
    ],
  };

  it('explains each setting, then is written and rehearsed', async () => {
    serve({ 'GET /baseline': baseline, 'POST /baseline': { id: 'p1' } });
    const { address } = show(<BaselineSheet onClose={() => {}} />);
    expect(await screen.findByText('The fewest characters.')).toBeTruthy();
    fireEvent.click(screen.getByText('Write it and rehearse'));
    await waitFor(() => expect(address.now).toBe('/rules/profiles/p1?rehearse=1'));
  });

  it('is not offered twice', async () => {
    serve({ 'GET /baseline': { ...baseline, profileId: 'p1' } });
    show(<BaselineSheet onClose={() => {}} />);
    expect((await screen.findByText('the profile Baseline')).getAttribute('href')).toBe('/rules/profiles/p1');
    expect(screen.queryByText('Write it and rehearse')).toBeNull();
  });
});
