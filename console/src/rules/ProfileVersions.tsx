import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, counted, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { entryOf, settingOf } from './entries';
import { sayPart } from './KitParts';
import { sayTarget } from './TargetPicker';
import { sayWindow } from './window';

type Profile = Schemas['Profile'];
type Version = Schemas['ProfileVersion'];

/** What a profile says at one time, in words, by setting; and whom it goes to. */
export type Said = Record<string, string>;

const ALONG = 'goes along';
const GOES = 'goes to';
const EXCEPT = 'except';
const WHEN = 'when';

export function said(of: Pick<Version, 'words' | 'parts' | 'targets' | 'exclusions' | 'window'>): Said {
  const when = sayWindow(of.window);
  return {
    ...of.words,
    ...(of.parts.length > 0 ? { [ALONG]: of.parts.map(sayPart).join('; ') } : {}),
    [GOES]: of.targets.map(sayTarget).join(', ') || 'nobody',
    [EXCEPT]: of.exclusions.map(sayTarget).join(', ') || 'nobody',
    ...(when ? { [WHEN]: when } : {}),
  };
}

/** One line of a comparison: what each side says, nothing where it says nothing. */
export interface Line {
  key: string;
  left?: string;
  right?: string;
}

/** Both sides line by line, in the order of the catalogue. */
export function compared(left: Said, right: Said, order: string[]): Line[] {
  const place = (key: string) => order.indexOf(key.replace(/\[[^\]]*]/, ''));
  return [...new Set([...Object.keys(left), ...Object.keys(right)])]
    .sort((a, b) => place(a) - place(b) || a.localeCompare(b))
    .map((key) => ({ key, left: left[key], right: right[key] }));
}

function Side({ text, other }: { text?: string; other?: string }) {
  return (
    <td className={clsx('w-1/3 py-1 pr-4 align-top', text === undefined && 'text-quiet')}>
      {text === other ? (
        text
      ) : (
        <mark className="bg-brass/15 rounded-[2px] px-1 text-inherit">{text ?? 'says nothing'}</mark>
      )}
    </td>
  );
}

/** The published versions of a profile; any two are compared, and one is put back into the draft. */
export function ProfileVersions({
  profile,
  catalogue,
}: {
  profile: Profile;
  catalogue: Schemas['Catalogue'];
}) {
  const path = { id: profile.id };
  const { act, trouble, busy } = useAct('profile', 'profiles');
  const [sides, setSides] = useState<{ left: string; right: string }>();
  const [whole, setWhole] = useState(false);
  const versions = useQuery({
    queryKey: ['profile', profile.id, 'versions'],
    queryFn: () => answer(api.GET('/profiles/{id}/versions', { params: { path, query: { limit: 50 } } })),
  });
  const items = versions.data?.items ?? [];
  if (items.length === 0) {
    return null;
  }
  const of = (side: string): Said => {
    const version = items.find((v) => String(v.number) === side);
    return said(version ?? profile);
  };
  const name = (side: string) => (side === 'draft' ? 'the draft' : `version ${side}`);
  const order = catalogue.settings.map((s) => s.key);
  const lines = sides ? compared(of(sides.left), of(sides.right), order) : [];
  const shown = whole ? lines : lines.filter((l) => l.left !== l.right);
  const called = (key: string) => {
    const setting = settingOf(catalogue, key);
    const entry = entryOf(key);
    return setting ? `${setting.title}${entry ? ` (${entry})` : ''}` : key;
  };
  return (
    <section>
      <h2 className="mb-1 font-semibold">Versions</h2>
      <table className="w-full text-sm">
        <tbody>
          {items.map((v) => (
            <tr key={v.number} className="border-line/60 border-b">
              <td className="py-1">version {v.number}</td>
              <td className="text-quiet">
                <Moment at={v.publishedAt} /> by {v.publishedBy}
              </td>
              <td className="text-quiet max-md:hidden">
                {profile.kind === 'kit'
                  ? counted(v.parts.length, 'profile')
                  : counted(Object.keys(v.settings).length, 'setting')}
              </td>
              <td className="text-quiet max-md:hidden">
                {v.targets.map(sayTarget).join(', ') || 'nobody'}
                {sayWindow(v.window) && `, ${sayWindow(v.window)}`}
              </td>
              <td className="text-right">
                <Button
                  weight="bare"
                  className="h-7!"
                  aria-label={`Compare version ${v.number} with the draft`}
                  onClick={() => setSides({ left: String(v.number), right: 'draft' })}
                >
                  Compare
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {sides && (
        <div className="border-line mt-4 border-t pt-3" data-testid="compared">
          <table className="w-full table-fixed text-sm">
            <thead>
              <tr className="text-left align-bottom">
                <td>
                  <label className="text-quiet flex items-center gap-2 text-xs">
                    <input type="checkbox" checked={whole} onChange={(e) => setWhole(e.target.checked)} />
                    what is the same too
                  </label>
                </td>
                {(['left', 'right'] as const).map((side) => (
                  <th key={side} className="pr-4 pb-1 font-normal">
                    <select
                      className="field"
                      aria-label={side === 'left' ? 'Compare' : 'With'}
                      value={sides[side]}
                      onChange={(e) => setSides({ ...sides, [side]: e.target.value })}
                    >
                      <option value="draft">the draft</option>
                      {items.map((v) => (
                        <option key={v.number} value={v.number}>
                          version {v.number}
                        </option>
                      ))}
                    </select>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {shown.map((l) => (
                <tr key={l.key} className="border-line/60 border-t">
                  <th className="text-quiet py-1 pr-4 text-left align-top font-normal">{called(l.key)}</th>
                  <Side text={l.left} other={l.right} />
                  <Side text={l.right} other={l.left} />
                </tr>
              ))}
            </tbody>
          </table>
          {shown.length === 0 && (
            <p className="text-quiet py-2 text-sm">
              {name(sides.left)} and {name(sides.right)} say the same.
            </p>
          )}
          <div className="flex justify-end gap-2 pt-2">
            <Button onClick={() => setSides(undefined)}>Close</Button>
            {sides.left !== 'draft' && (
              <Button
                disabled={busy}
                onClick={() =>
                  void act(
                    () =>
                      answer(
                        api.POST('/profiles/{id}/versions/{number}/restoration', {
                          params: {
                            path: { ...path, number: Number(sides.left) },
                            header: onVersion(profile),
                          },
                        }),
                      ),
                    () => setSides(undefined),
                  )
                }
              >
                Put version {sides.left} back into the draft
              </Button>
            )}
          </div>
        </div>
      )}
      <Trouble error={trouble ?? versions.error} />
    </section>
  );
}
