import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { KioskLayout } from './KioskLayout';
import { beside, laidOut, moved, written } from './homeScreen';

describe('where apps lie', () => {
  it('is where they were put, and the others in what is free', () => {
    const places = laidOut(
      2,
      ['web', 'notes', 'photos', 'mail', 'clock'],
      ['1.2 web', '0.1 mail', '1.2 photos', '2.5 clock', '3.1 stranger'],
    );
    expect(written(places)).toEqual(['0.1 mail', '1.1 notes', '1.2 web', '2.1 photos', '2.2 clock']);
  });

  it('is not written of apps that found no room', () => {
    const places = laidOut(1, ['a', 'b', 'c', 'd', 'e', 'f', 'g'], []);
    expect(places.get('g')).toEqual({ row: 7, column: 1 });
    expect(written(places).at(-1)).toBe('6.1 f');
  });

  it('changes places with whoever lies there', () => {
    const places = laidOut(3, ['web', 'notes'], []);
    expect(written(moved(places, 'web', { row: 1, column: 2 }))).toEqual(['1.1 notes', '1.2 web']);
    expect(written(moved(places, 'web', { row: 0, column: 3 }))).toEqual(['0.3 web', '1.2 notes']);
  });

  it('goes one cell with an arrow key, and from the last row into the dock', () => {
    expect(beside({ row: 1, column: 1 }, 'ArrowLeft', 3)).toEqual({ row: 1, column: 1 });
    expect(beside({ row: 1, column: 3 }, 'ArrowRight', 3)).toEqual({ row: 1, column: 3 });
    expect(beside({ row: 6, column: 2 }, 'ArrowDown', 3)).toEqual({ row: 0, column: 2 });
    expect(beside({ row: 0, column: 2 }, 'ArrowUp', 3)).toEqual({ row: 6, column: 2 });
  });
});

const catalogue = {
  settings: [{ key: 'kiosk.apps', support: [{ platform: 'tarn', modes: ['supervised'], since: '6.0' }] }],
  platforms: [
    {
      key: 'tarn',
      apps: [
        { id: 'system.web', name: 'Web' },
        { id: 'system.notes', name: 'Notes' },
      ],
    },
    { key: 'moor', apps: [{ id: 'system.files', name: 'Files' }] },
  ],
} as unknown as Schemas['Catalogue'];

function Editing({ start, seen }: { start: Record<string, unknown>; seen: Record<string, unknown>[] }) {
  const [settings, set] = useState(start);
  return (
    <KioskLayout
      settings={settings}
      catalogue={catalogue}
      onSet={(values) => {
        seen.push(values);
        set({ ...settings, ...values });
      }}
    />
  );
}

describe('the drawing of a kiosk', () => {
  it('is laid out by keyboard, and says what was done', () => {
    const seen: Record<string, unknown>[] = [];
    render(<Editing start={{ 'kiosk.mode': 'home', 'kiosk.columns': 2 }} seen={seen} />);
    expect(screen.queryByRole('button', { name: 'Add Files' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Add Web' }));
    fireEvent.click(screen.getByRole('button', { name: 'Add Notes' }));
    expect(seen.at(-1)).toEqual({
      'kiosk.apps': ['system.web', 'system.notes'],
      'kiosk.layout': ['1.1 system.web', '1.2 system.notes'],
    });
    fireEvent.keyDown(screen.getByRole('button', { name: 'Web, row 1, column 1' }), { key: 'ArrowDown' });
    expect(seen.at(-1)!['kiosk.layout']).toEqual(['1.2 system.notes', '2.1 system.web']);
    expect(screen.getByRole('status', { name: 'What was done' }).textContent).toBe(
      'Web moved to row 2, column 1.',
    );
    fireEvent.keyDown(screen.getByRole('button', { name: 'Notes, row 1, column 2' }), { key: 'Delete' });
    expect(seen.at(-1)).toEqual({ 'kiosk.apps': ['system.web'], 'kiosk.layout': ['2.1 system.web'] });
  });

  it('takes apps of one’s own by their id alone', () => {
    const seen: Record<string, unknown>[] = [];
    render(<Editing start={{ 'kiosk.mode': 'home' }} seen={seen} />);
    const field = screen.getByLabelText('Another app, by its id');
    fireEvent.change(field, { target: { value: 'Guide' } });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add it' }).disabled).toBe(true);
    fireEvent.change(field, { target: { value: 'example.vellmar.guide' } });
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }));
    expect(seen.at(-1)!['kiosk.apps']).toEqual(['example.vellmar.guide']);
  });

  it('of one app shows which fills the screen', () => {
    const seen: Record<string, unknown>[] = [];
    render(
      <Editing start={{ 'kiosk.mode': 'one', 'kiosk.apps': ['system.web', 'system.notes'] }} seen={seen} />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'Make it the one' }));
    expect(seen.at(-1)!['kiosk.apps']).toEqual(['system.notes', 'system.web']);
  });
});
