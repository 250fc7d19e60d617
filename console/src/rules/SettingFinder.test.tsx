import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show, words } from '../testing/service';
import { entryKey } from './entries';
import { SettingFinder, unfit } from './SettingFinder';

const setting = (key: string, required = false) =>
  ({
    key,
    section: key.split('.')[0],
    title: key,
    help: '',
    fallback: 'x',
    required,
    type: { kind: 'text' },
    support: [{ platform: 'tarn', modes: ['supervised'], since: '5.0' }],
  }) as Schemas['Setting'];

const SETTINGS = [setting('wifi.network', true), setting('wifi.hidden'), setting('appearance.wallpaper')];
const CATALOGUE = {
  sections: [
    { key: 'appearance', title: 'Appearance', help: '' },
    { key: 'wifi', title: 'Wi-Fi', help: '', entries: { noun: 'network', most: 2 } },
  ],
  settings: SETTINGS,
  platforms: [
    { key: 'tarn', name: 'Tarn' },
    { key: 'moor', name: 'Moor' },
  ],
  ...words,
} as unknown as Schemas['Catalogue'];

async function finder(taken: string[]) {
  const onAdd = vi.fn<(s: Schemas['Setting'][]) => void>();
  serve({ 'GET /settings': SETTINGS });
  show(
    <SettingFinder
      of="profile"
      catalogue={CATALOGUE}
      taken={taken}
      onAdd={onAdd}
      onClose={() => undefined}
    />,
  );
  await screen.findByText('wifi.hidden');
  return () => onAdd.mock.calls.map(([added]) => added.map((s) => s.key));
}

describe('finding settings', () => {
  it('adds one that is for the whole device at once', async () => {
    const added = await finder([]);
    fireEvent.click(screen.getByText('appearance.wallpaper'));
    expect(added()).toEqual([['appearance.wallpaper']]);
  });

  it('asks what a new network is called, and adds what each needs', async () => {
    const added = await finder([]);
    fireEvent.click(screen.getByText('wifi.hidden'));
    fireEvent.change(screen.getByLabelText('What the new network is called here'), {
      target: { value: 'East galleries' },
    });
    fireEvent.click(screen.getByText('Add'));
    expect(added()).toEqual([['wifi[east-galleries].network', 'wifi[east-galleries].hidden']]);
  });

  it('offers the networks that do not have it, and no more than there may be', async () => {
    const added = await finder(['wifi[a].network', 'wifi[a].hidden', 'wifi[b].network']);
    fireEvent.click(screen.getByText('wifi.hidden'));
    expect(screen.queryByText('to a')).toBeNull();
    expect(screen.queryByText('Add')).toBeNull();
    fireEvent.click(screen.getByText('to b'));
    expect(added()).toEqual([['wifi[b].hidden']]);
  });

  it('offers what fits the devices meant, and says why the rest does not', async () => {
    await finder([]);
    expect(screen.getByText('Appearance')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('For which platform'), { target: { value: 'moor' } });
    expect(screen.getByText('Not on these devices')).toBeTruthy();
    expect(screen.getAllByText('only on tarn')).toHaveLength(3);
    expect(screen.queryByRole('button', { name: /wifi.hidden/ })).toBeNull();
    expect(unfit(SETTINGS[0]!, { platform: 'tarn', mode: 'standard' })).toBe('only when supervised');
    expect(unfit(SETTINGS[0]!, { platform: 'tarn', mode: 'supervised' })).toBeUndefined();
  });

  it('makes a key of whatever somebody calls a network', () => {
    expect(entryKey('  Vellmar — Guests! ')).toBe('vellmar-guests');
    expect(entryKey('…')).toBe('');
  });
});
