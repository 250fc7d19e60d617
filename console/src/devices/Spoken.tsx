import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, everyPage, type Schemas } from '../api/client';
import { onVersion } from '../ui/RecordSheet';
import { useCatalogue } from '../api/session';
import { SettingField } from '../rules/SettingField';
import { Button, Labelled, Trouble } from '../ui/parts';

type Words = Record<string, string>;

const sorted = (words: Words) => Object.entries(words).sort(([a], [b]) => a.localeCompare(b));

/** A field of a command is filled in like a setting. */
export const asSetting = (f: Schemas['CommandField'], language?: string) => ({
  key: `command-${f.key}${language ? `-${language}` : ''}`,
  type: f.type,
  sensitive: f.secret,
});

/** A text that is said to the holder, in one language or in several. */
export function SpokenField({
  field: f,
  fields,
  error,
  onChange,
}: {
  field: Schemas['CommandField'];
  fields: Words;
  error?: string;
  onChange: (fields: Words) => void;
}) {
  const catalogue = useCatalogue();
  const languages = catalogue.data?.languages ?? [];
  const added = Object.keys(fields)
    .filter((k) => k.startsWith(`${f.key}@`))
    .map((k) => k.slice(f.key.length + 1));
  const name = (key: string) => languages.find((l) => l.key === key)?.title ?? key;
  const without = (language: string) =>
    Object.fromEntries(Object.entries(fields).filter(([k]) => k !== `${f.key}@${language}`));
  return (
    <div className="space-y-2">
      <Labelled label={f.required ? f.title : `${f.title} (if you like)`} error={error}>
        <SettingField
          own
          setting={asSetting(f)}
          value={fields[f.key] ?? ''}
          onChange={(value) => onChange({ ...fields, [f.key]: String(value) })}
        />
      </Labelled>
      {added.map((language) => (
        <Labelled key={language} label={`${f.title}, ${name(language)}`}>
          <span className="flex items-start gap-2">
            <span className="flex-1">
              <SettingField
                own
                setting={asSetting(f, language)}
                value={fields[`${f.key}@${language}`] ?? ''}
                onChange={(value) => onChange({ ...fields, [`${f.key}@${language}`]: String(value) })}
              />
            </span>
            <Button
              weight="bare"
              aria-label={`Without ${name(language)}`}
              onClick={() => onChange(without(language))}
            >
              ×
            </Button>
          </span>
        </Labelled>
      ))}
      {languages.length > added.length && (
        <select
          className="text-quiet h-6 border-0 bg-transparent p-0 text-xs"
          aria-label={`${f.title} in another language`}
          value=""
          onChange={(e) => onChange({ ...fields, [`${f.key}@${e.target.value}`]: '' })}
        >
          <option value="">+ in another language …</option>
          {languages
            .filter((l) => !added.includes(l.key))
            .map((l) => (
              <option key={l.key} value={l.key}>
                {l.title}
              </option>
            ))}
        </select>
      )}
    </div>
  );
}

/** Words that were kept to be used again: to take, to keep and to throw away. */
export function Templates({
  command,
  fields,
  onTake,
}: {
  command: Schemas['CommandKey'];
  fields: Words;
  onTake: (fields: Words) => void;
}) {
  const [taken, setTaken] = useState('');
  const [name, setName] = useState<string>();
  const { act, trouble, busy } = useAct('message-templates');
  const all = useQuery({
    queryKey: ['message-templates'],
    queryFn: () =>
      everyPage((after) =>
        answer(api.GET('/message-templates', { params: { query: { after, limit: 200 } } })),
      ),
  });
  const fitting = (all.data?.items ?? []).filter((t) => t.command === command);
  const chosen = fitting.find((t) => t.id === taken);
  const words = Object.fromEntries(Object.entries(fields).filter(([, text]) => text.trim() !== ''));
  const same = JSON.stringify(sorted(words)) === JSON.stringify(sorted(chosen?.fields ?? {}));
  const nothing = Object.keys(words).length === 0;
  const keep = () =>
    act(
      () => answer(api.POST('/message-templates', { body: { name: name!.trim(), command, fields: words } })),
      (made) => {
        setTaken(made.id);
        setName(undefined);
      },
    );
  const forget = (t: Schemas['MessageTemplate']) =>
    act(
      () =>
        answer(
          api.DELETE('/message-templates/{id}', { params: { path: { id: t.id }, header: onVersion(t) } }),
        ),
      () => setTaken(''),
    );
  return (
    <div className="bg-raised space-y-2 px-4 py-3 text-sm">
      <div className="flex flex-wrap items-center gap-2">
        <select
          className="field w-56"
          aria-label="Words that were kept"
          value={taken}
          onChange={(e) => {
            setTaken(e.target.value);
            const t = fitting.find((x) => x.id === e.target.value);
            if (t) {
              onTake(t.fields);
            }
          }}
        >
          <option value="">
            {fitting.length ? 'Take words that were kept …' : 'No words were kept yet'}
          </option>
          {fitting.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
        {chosen && (
          <Button weight="bare" disabled={busy} onClick={() => void forget(chosen)}>
            Forget it
          </Button>
        )}
        {name === undefined && !same && (
          <Button weight="bare" disabled={nothing} onClick={() => setName('')}>
            Keep these words …
          </Button>
        )}
      </div>
      {name !== undefined && (
        <div className="flex items-center gap-2">
          <input
            className="field flex-1"
            aria-label="Name of the words"
            placeholder="What they are for"
            maxLength={80}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Button disabled={busy || name.trim() === ''} onClick={() => void keep()}>
            Keep
          </Button>
          <Button weight="bare" onClick={() => setName(undefined)}>
            Cancel
          </Button>
        </div>
      )}
      <Trouble error={trouble ?? all.error} />
    </div>
  );
}
