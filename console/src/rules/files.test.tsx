import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Refusal, serve, show } from '../testing/service';
import { FileField } from './FileField';
import { FilesPage } from './FilesPage';
import { reference } from './files';
import { size } from '../ui/size';
import { StoreFile } from './StoreFile';

const ID = 'a'.repeat(64);
const file = (more: Partial<Schemas['StoredFile']> = {}): Schemas['StoredFile'] => ({
  id: ID,
  version: 2,
  name: 'Quay.png',
  kind: 'picture',
  mediaType: 'image/png',
  bytes: 24_576,
  about: 'PNG, 960 × 1280 pixels',
  profiles: 1,
  storedAt: '2026-11-28T10:00:00Z',
  storedBy: 'owner',
  ...more,
});
const choose = (name: string) =>
  fireEvent.change(screen.getByLabelText('File'), {
    target: { files: [new File(['what is in it'], name)] },
  });

describe('files', () => {
  it('are counted in powers of two', () => {
    expect([size(255), size(24_576), size(3 * 1024 * 1024)]).toEqual(['255 bytes', '24 KiB', '3.0 MiB']);
  });

  it('are listed with what they are, and say when they go', async () => {
    serve({
      'GET /files': {
        items: [
          file(),
          file({
            id: 'b'.repeat(64),
            name: 'Old.pdf',
            kind: 'document',
            profiles: 0,
            clearedAt: '2026-12-28T10:00:00Z',
          }),
        ],
      },
    });
    show(<FilesPage />, '/rules/files');
    expect(await screen.findByText('Quay.png')).toBeTruthy();
    expect(screen.getByText('1 profile')).toBeTruthy();
    expect(screen.getByText('nothing; goes on 2026-12-28')).toBeTruthy();
  });

  it('are told of what uses them, and deleted only where nothing does', async () => {
    const uses = [{ profileId: 'p1', profileName: 'Gallery tablets', draft: true, latest: 3 }];
    const calls = serve({
      'GET /files': { items: [file()] },
      [`GET /files/${ID}`]: { file: file(), uses },
      [`PUT /files/${ID}`]: { file: file({ name: 'Dusk.png' }), uses },
    });
    show(<FilesPage />, `/rules/files?card=${ID}`);
    expect(await screen.findByText(', version 3 and its draft')).toBeTruthy();
    expect(screen.queryByText('Delete')).toBeNull();
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Dusk.png' } });
    fireEvent.click(screen.getByText('Rename'));
    await waitFor(() => expect(calls.find((c) => c.method === 'PUT')?.body).toEqual({ name: 'Dusk.png' }));
    expect(calls.find((c) => c.method === 'PUT')?.headers.get('If-Match')).toBe('"2"');
  });

  it('are stored as they are', async () => {
    const calls = serve({ 'POST /files': file() });
    const stored = vi.fn();
    show(<StoreFile onStored={stored} onClose={() => undefined} />);
    choose('Quay.png');
    fireEvent.click(screen.getByText('Store file'));
    await waitFor(() => expect(stored).toHaveBeenCalledWith(file()));
    const call = calls.find((c) => c.method === 'POST')!;
    expect(call.query.get('name')).toBe('Quay.png');
    expect(call.headers.get('Content-Type')).toBe('application/octet-stream');
    expect(screen.queryByLabelText(/Password/)).toBeNull();
  });

  it('that are on file already are not stored twice', async () => {
    serve({ 'POST /files': file() });
    const stored = vi.fn();
    show(<StoreFile onStored={stored} onClose={() => undefined} />);
    choose('Harbour.png');
    fireEvent.click(screen.getByText('Store file'));
    fireEvent.click(await screen.findByText('Use Quay.png'));
    expect(stored).toHaveBeenCalledWith(file());
  });

  it('that are locked are looked into with their password', async () => {
    const calls = serve({
      'POST /files': (call: { headers: Headers }) =>
        call.headers.get('Pinwright-File-Password')
          ? file({ name: 'staff' })
          : new Refusal(400, 'malformed', 'This is a PKCS#12; give its password too.', {
              pointer: '/password',
            }),
    });
    const stored = vi.fn();
    show(<StoreFile kind="certificate" onStored={stored} onClose={() => undefined} />);
    choose('staff');
    fireEvent.click(screen.getByText('Store file'));
    fireEvent.change(await screen.findByLabelText(/Password of the PKCS#12/), {
      target: { value: 'über' },
    });
    fireEvent.click(screen.getByText('Store file'));
    await waitFor(() => expect(stored).toHaveBeenCalled());
    expect(calls.at(-1)!.headers.get('Pinwright-File-Password')).toBe('w7xiZXI=');
    expect(calls.at(-1)!.query.get('kind')).toBe('certificate');
  });

  it('are chosen in the field of a setting', async () => {
    const calls = serve({ 'GET /files': { items: [file()] } });
    const change = vi.fn();
    show(<FileField id="f" kind="picture" value="" onChange={change} />);
    fireEvent.click(screen.getByText('Choose a picture …'));
    fireEvent.click(await screen.findByText('Quay.png'));
    expect(change).toHaveBeenCalledWith(reference(ID));
    expect(calls.find((c) => c.path === '/files')?.query.get('kind')).toBe('picture');
  });
});
