import { carried, ProblemError, type Schemas } from '../api/client';

export type App = Schemas['App'];
export type AppDetail = Schemas['AppDetail'];
export type AppVersion = Schemas['AppVersion'];
export type With = Schemas['AppWith'];

export const ORIGINS: Record<Schemas['AppOrigin'], string> = {
  package: 'own package',
  store: 'store',
  system: 'comes with the OS',
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

/** Brings a package, saying how much of it has gone; sent as it is and never read into memory first. */
export function bring(file: File, onProgress: (share: number) => void): Promise<Schemas['AppBrought']> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', '/api/v1/apps/packages');
    request.setRequestHeader('Content-Type', 'application/vnd.pinwright.package+zip');
    request.setRequestHeader('X-CSRF', carried());
    request.upload.onprogress = (e) => onProgress(e.total ? e.loaded / e.total : 0);
    request.onerror = () => reject(new Error('The service cannot be reached. Try again.'));
    request.onload = () => {
      const said = JSON.parse(request.responseText || '{}') as unknown;
      if (request.status >= 200 && request.status < 300) {
        resolve(said as Schemas['AppBrought']);
      } else {
        reject(new ProblemError(said as Schemas['Problem']));
      }
    };
    request.send(file);
  });
}
