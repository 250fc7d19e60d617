import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, Labelled, Trouble } from '../ui/parts';

type Value = Schemas['AttributeValue'];

function Field({ of, value, onChange }: { of: Value; value: string; onChange: (v: string) => void }) {
  const common = {
    className: 'field',
    value,
    onChange: (e: { target: { value: string } }) => onChange(e.target.value),
  };
  return (
    <Labelled label={of.name}>
      {of.type === 'choice' ? (
        <select {...common}>
          <option value="">–</option>
          {of.choices.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      ) : (
        <input
          {...common}
          type={of.type === 'date' ? 'date' : 'text'}
          inputMode={of.type === 'number' ? 'decimal' : undefined}
        />
      )}
    </Labelled>
  );
}

/** The organisation's own fields of a device, a person or a unit. */
export function AttributeFields({ kind, id }: { kind: 'device' | 'person' | 'unit'; id: string }) {
  const path = { kind, id };
  const values = useQuery({
    queryKey: ['attributes', kind, id],
    queryFn: () => answer(api.GET('/attributes/{kind}/{id}', { params: { path } })),
  });
  const { act, trouble, busy } = useAct('attributes');
  const [changed, setChanged] = useState<Record<string, string>>({});
  if (values.data?.length === 0) {
    return (
      <p className="text-quiet text-sm">
        There are no attributes of your own yet.{' '}
        <Link className="text-brass underline" to="/devices/attributes">
          Make one
        </Link>
        .
      </p>
    );
  }
  return (
    <div className="space-y-3">
      <div className="grid grid-cols-2 gap-3">
        {values.data?.map((v) => (
          <Field
            key={v.attributeId}
            of={v}
            value={changed[v.name] ?? v.value ?? ''}
            onChange={(text) => setChanged({ ...changed, [v.name]: text })}
          />
        ))}
      </div>
      <Trouble error={trouble ?? values.error} />
      {Object.keys(changed).length > 0 && (
        <Button
          disabled={busy}
          onClick={() =>
            void act(
              () =>
                answer(api.PUT('/attributes/{kind}/{id}', { params: { path }, body: { values: changed } })),
              () => setChanged({}),
            )
          }
        >
          Save attributes
        </Button>
      )}
    </div>
  );
}
