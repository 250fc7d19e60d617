import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, counted, Tag, Trouble } from '../ui/parts';
import { ConnectionForm, filled, type Field } from './ConnectionForm';
import { onVersion } from '../ui/RecordSheet';

const fields: Field[] = [
  {
    name: 'address',
    label: 'Address',
    placeholder: 'ldaps://directory.vellmar.example:636',
    hint: 'ldaps:// or ldap://, with its port.',
  },
  { name: 'base', label: 'People are below', placeholder: 'dc=vellmar,dc=example' },
  { name: 'login', label: 'Signs in as', placeholder: 'cn=pinwright,dc=vellmar,dc=example' },
  { name: 'password', label: 'Password', secret: true },
  {
    name: 'unitAttribute',
    label: "Attribute with the unit's code",
    placeholder: 'departmentNumber',
  },
  {
    name: 'roots',
    label: 'Certificates that vouch for it (PEM)',
    lines: 3,
    hint: "Only for ldaps://; empty uses the system's own.",
  },
];

function Reading() {
  const { act, trouble, busy } = useAct('people', 'directory');
  const [brought, setBrought] = useState<Schemas['DirectoryReading']>();
  const read = (confirmLeaving?: number) =>
    void act(
      () => answer(api.POST('/directory/reading', { params: { query: { confirmLeaving } } })),
      setBrought,
    );
  const groups = useQuery({
    queryKey: ['directory', 'groups'],
    queryFn: () => answer(api.GET('/directory/groups')),
    retry: false,
  });
  return (
    <section className="border-line space-y-3 border-t pt-4">
      <h2 className="font-semibold">People and groups</h2>
      <p className="text-quiet text-sm">
        People are brought from the directory every hour, with their units. Those who are no longer in it stay
        on file as having left, and what was open to them ends.
      </p>
      <Button disabled={busy} onClick={() => read()}>
        Bring people now
      </Button>
      {brought?.leaving !== undefined && (
        <div role="alert" className="border-amber space-y-2 border-l-2 pl-3 text-sm">
          <p>
            <b>{counted(brought.leaving, 'person is', 'people are')} missing</b> in the directory, such as{' '}
            {brought.examples.join(', ')}. That is many: has it been moved, or is it read with other rights?
            Nobody has been said to have left.
          </p>
          <Button disabled={busy} onClick={() => read(brought.leaving)}>
            All {brought.leaving} have left
          </Button>
        </div>
      )}
      {brought && (
        <p role="status" className="text-sm">
          {brought.found} found: {brought.added} added, {brought.changed} changed, {brought.gone} no longer in
          it.
          {brought.unknownUnits.length > 0 && ` Units not known here: ${brought.unknownUnits.join(', ')}.`}
        </p>
      )}
      <Trouble error={trouble ?? groups.error} />
      <p className="flex flex-wrap items-center gap-2 text-sm">
        <span className="text-quiet">Groups:</span>
        {groups.data?.map((g) => (
          <Tag key={g}>{g}</Tag>
        ))}
        {groups.data?.length === 0 && <span className="text-quiet">none</span>}
      </p>
    </section>
  );
}

/** The staff directory. */
export function DirectoryPage() {
  const directory = useQuery({ queryKey: ['directory'], queryFn: () => answer(api.GET('/directory')) });
  if (!directory.data) {
    return null;
  }
  return (
    <ConnectionForm
      key={directory.data.state}
      title="Staff directory"
      note="who holders are, and how they sign in"
      topic="directory"
      {...directory.data}
      fields={fields}
      kept={{ ...directory.data.settings, password: '' }}
      needed={['address', 'base']}
      tryIt="Sign in to try it, and keep"
      error={directory.error}
      onSave={(draft, on) =>
        answer(
          api.PUT('/directory', {
            params: { header: onVersion(on) },
            body: filled(draft) as Schemas['DirectoryDraft'],
          }),
        )
      }
    >
      {directory.data.state !== 'missing' && <Reading />}
    </ConnectionForm>
  );
}
