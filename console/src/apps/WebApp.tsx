import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { FileField } from '../rules/FileField';
import { referred } from '../rules/files';
import { Labelled } from '../ui/parts';
import { onVersion, RecordSheet } from '../ui/RecordSheet';
import type { AppDetail } from './apps';

/** Where a page of the web is made into an app, or such an app is changed. */
export function WebApp({
  before,
  onMade,
  onClose,
}: {
  /** The app that is changed; without it one is made. */
  before?: AppDetail;
  onMade?: (app: AppDetail) => void;
  onClose: () => void;
}) {
  const catalogue = useQuery({ queryKey: ['catalogue'], queryFn: () => answer(api.GET('/catalogue')) });
  const platforms = catalogue.data?.platforms ?? [];
  const [name, setName] = useState(before?.app.name ?? '');
  const [address, setAddress] = useState(before?.latest?.opens ?? 'https://');
  const [publisher, setPublisher] = useState(before?.app.publisher ?? '');
  const [summary, setSummary] = useState(before?.app.summary ?? '');
  const [category, setCategory] = useState(before?.app.category ?? '');
  const [icon, setIcon] = useState('');
  const [chosen, setChosen] = useState<Schemas['PlatformKey'][]>();
  const on = chosen ?? (before ? before.app.platforms : platforms.map((p) => p.key));
  const body = {
    name: name.trim(),
    address: address.trim(),
    publisher: publisher.trim(),
    summary: summary.trim(),
    category: category.trim() || undefined,
    platforms: on as Schemas['PlatformKey'][],
    icon: referred(icon) || undefined,
  };
  return (
    <RecordSheet
      title={before ? before.app.name : 'An app of a page'}
      list="apps"
      keep={before ? 'Bring another version' : 'Make the app'}
      ready={
        body.name !== '' && /^https?:\/\/\S+$/.test(body.address) && body.address.length > 8 && on.length > 0
      }
      save={async () => {
        if (before) {
          await answer(
            api.PATCH('/apps/{id}/web', {
              params: { path: { id: before.app.id }, header: onVersion(before) },
              body,
            }),
          );
        } else {
          onMade?.(await answer(api.POST('/apps/web', { body })));
        }
      }}
      onClose={onClose}
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={60}
          value={name}
          onChange={(e) => setName(e.target.value)}
          autoFocus
        />
      </Labelled>
      <Labelled label="Address it opens">
        <input
          className="field font-mono"
          maxLength={2000}
          placeholder="https://vellmar.example/opening-hours"
          value={address}
          onChange={(e) => setAddress(e.target.value)}
        />
      </Labelled>
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Publisher">
          <input
            className="field"
            maxLength={80}
            value={publisher}
            onChange={(e) => setPublisher(e.target.value)}
          />
        </Labelled>
        <Labelled label="Category">
          <input
            className="field"
            maxLength={40}
            placeholder="web"
            value={category}
            onChange={(e) => setCategory(e.target.value)}
          />
        </Labelled>
      </div>
      <Labelled label="In one sentence" hint="Stands on the shelf.">
        <input
          className="field"
          maxLength={200}
          value={summary}
          onChange={(e) => setSummary(e.target.value)}
        />
      </Labelled>
      <fieldset>
        <legend className="label mb-1">For</legend>
        <div className="flex gap-4 text-sm">
          {platforms.map((p) => (
            <label key={p.key} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={on.includes(p.key)}
                onChange={(e) =>
                  setChosen(
                    platforms
                      .map((x) => x.key)
                      .filter((k) => (k === p.key ? e.target.checked : on.includes(k))),
                  )
                }
              />
              {p.name}
            </label>
          ))}
        </div>
      </fieldset>
      <Labelled label="Picture" hint="A PNG; without one its first letter stands for it.">
        <FileField id="web-icon" kind="picture" value={icon} onChange={setIcon} />
      </Labelled>
      <p className="text-quiet text-xs">
        {before
          ? 'No device gets the new version before it is released.'
          : 'It is made into a package and signed here. No device gets it before it is assigned.'}
      </p>
    </RecordSheet>
  );
}
