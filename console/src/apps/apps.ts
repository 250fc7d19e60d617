import { answer, api, type Schemas } from '../api/client';

export type App = Schemas['App'];
export type AppDetail = Schemas['AppDetail'];
export type AppVersion = Schemas['AppVersion'];
export type With = Schemas['AppWith'];

export const ORIGINS: Record<Schemas['AppOrigin'], string> = {
  package: 'own package',
  store: 'store',
  system: 'with the OS',
  web: 'page of the web',
};

export const PRESENCES: Record<Schemas['AppPresence'], string> = {
  required: 'required',
  offered: 'offered',
  forbidden: 'forbidden',
};

/** How devices can be with an app, with the count of each and what the list of them is called. */
export const WITHS: { with: With; count: keyof Schemas['AppCounts']; word: string }[] = [
  { with: 'there', count: 'there', word: 'have it' },
  { with: 'missing', count: 'missing', word: 'missing' },
  { with: 'old', count: 'old', word: 'another version' },
  { with: 'under-way', count: 'underWay', word: 'on its way' },
  { with: 'failing', count: 'failing', word: 'failing' },
];

/** Platforms and the lowest OS version of each, in words. */
export const runsOn = (v: AppVersion): string =>
  Object.entries(v.lowestOs)
    .map(([platform, os]) => (os === '0.0' ? platform : `${platform} from ${os}`))
    .join(', ');

/** Bytes sent at once; less is lost where the line breaks. */
const PART = 1 << 20;

/** Sends a package in parts, saying how much of it has gone; goes on with an upload that was begun. */
export async function bring(
  file: File,
  onProgress: (share: number) => void,
  begun: { id?: string },
): Promise<Schemas['AppBrought']> {
  let at = begun.id
    ? await answer(api.GET('/uploads/{id}', { params: { path: { id: begun.id } } }))
    : await answer(api.POST('/uploads', { body: { bytes: file.size } }));
  begun.id = at.id;
  while (at.there < at.bytes) {
    onProgress(at.there / at.bytes);
    at = await answer(
      api.POST('/uploads/{id}/parts', {
        params: { path: { id: at.id }, query: { from: at.there } },
        body: file.slice(at.there, at.there + PART) as unknown as string,
        bodySerializer: (it: unknown) => it as BodyInit,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    );
  }
  onProgress(1);
  return answer(api.POST('/uploads/{id}/package', { params: { path: { id: at.id } } }));
}
