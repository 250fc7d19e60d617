import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schemas } from '../api/client';

export type StoredFile = Schemas['StoredFile'];
export type Kind = Schemas['FileKind'];

export const KINDS: Record<Kind, string> = {
  picture: 'Picture',
  certificate: 'Certificate',
  font: 'Font',
  document: 'Document',
  script: 'Script',
  package: 'Package',
};

/** What a browser offers first when a file of a kind is chosen. */
export const ENDINGS: Record<Kind, string> = {
  picture: '.png,.jpg,.jpeg',
  certificate: '.pem,.crt,.cer,.der,.p12,.pfx',
  font: '.ttf,.otf',
  document: '.pdf,.epub,.txt',
  script: '.sh,.py,text/*',
  package: '.pkg',
};

/** How a setting names a file. */
export const reference = (id: string) => `sha256:${id}`;

/** The id of the file a setting names, if it names one. */
export const referred = (value: unknown): string | undefined =>
  /^sha256:([0-9a-f]{64})$/.exec(String(value))?.[1];

/** Where what is in a file can be looked at. */
export const contentOf = (id: string) => `/api/v1/files/${id}/content`;

const inBase64 = (text: string) => btoa(String.fromCharCode(...new TextEncoder().encode(text)));

/** Stores a file under a name; a PKCS#12 with the password that opens it. */
export function store(file: File, name: string, password: string, kind?: Kind): Promise<StoredFile> {
  return answer(
    api.POST('/files', {
      params: {
        query: { name, kind },
        header: password ? { 'Pinwright-File-Password': inBase64(password) } : {},
      },
      // a file is sent as it is and never read into memory first
      body: file as unknown as string,
      bodySerializer: (it: unknown) => it as BodyInit,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );
}

/** One file and what names it. */
export function useFile(id: string | undefined) {
  return useQuery({
    queryKey: ['files', 'one', id],
    enabled: id !== undefined,
    queryFn: () => answer(api.GET('/files/{id}', { params: { path: { id: id! } } })),
  });
}
