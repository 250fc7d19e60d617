import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import type { Whom } from './ActMenu';
import { asSetting, SpokenField, Templates } from './Spoken';
import { complete, Repeating, zone, type Again } from './Repeating';
import { asOrdered, AT_ONCE, said, WhenFields, type When } from './WhenFields';
import { objection, SettingField } from '../rules/SettingField';
import { Sheet } from '../ui/Dialog';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { Button, counted, Labelled, Trouble } from '../ui/parts';

/** The fields of a command; on a personal device without what is never done on one. */
function offered(spec: Schemas['CommandSpec'], personal: boolean): Schemas['CommandField'][] {
  return spec.fields.map((f) =>
    personal && f.type.choices
      ? { ...f, type: { ...f.type, choices: f.type.choices.filter((c) => !f.corporateOnly.includes(c.key)) } }
      : f,
  );
}

/** Whether an answer is there from the beginning. */
const chosen = (f: Schemas['CommandField']) => f.type.kind === 'flag' || f.type.kind === 'choice';

/** What a form starts with: an answer where one has to be chosen. */
function begun(fields: Schemas['CommandField'][]): Record<string, string> {
  return Object.fromEntries(fields.filter(chosen).map((f) => [f.key, f.type.choices?.[0]?.key ?? 'false']));
}

/** Fills in a command, says what it would do, and orders it once however often it is pressed. */
export function OrderSheet({
  spec,
  whom,
  called,
  given,
  onClose,
}: {
  spec: Schemas['CommandSpec'];
  whom: Whom;
  called: string;
  /** Fields that are filled in already. */
  given?: Record<string, string>;
  onClose: () => void;
}) {
  const go = useNavigate();
  const only = whom.devices?.length === 1 ? whom.devices[0] : undefined;
  const device = useQuery({
    queryKey: ['device', only],
    enabled: only !== undefined,
    queryFn: () => answer(api.GET('/devices/{id}', { params: { path: { id: only! } } })),
  }).data?.device;
  const asked = offered(spec, device?.ownership === 'personal');
  const [typed, setTyped] = useState<Record<string, string>>(given ?? {});
  const fields = { ...begun(asked), ...typed };
  // what decides who can carry it out
  const limits = Object.fromEntries(
    asked.filter((f) => f.corporateOnly.length > 0).map((f) => [f.key, fields[f.key] ?? '']),
  );
  const [reason, setReason] = useState('');
  const [when, setWhen] = useState<When>(AT_ONCE);
  const [again, setAgain] = useState<Again>();
  const [trouble, setTrouble] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const [key] = useState(() => crypto.randomUUID());
  const order: Schemas['DispatchOrder'] = {
    command: spec.key,
    fields,
    reason,
    ...asOrdered(again ? { ...when, kind: 'now' } : when),
    ...(whom.matching
      ? { matching: whom.matching }
      : { targets: whom.devices.map((ref) => ({ kind: 'device', ref })) }),
  };
  const preview = useQuery({
    queryKey: ['preview', spec.key, whom, limits],
    queryFn: () =>
      answer(
        api.POST('/dispatches/rehearsal', {
          body: { ...order, reason: '', fields: limits, at: undefined, there: undefined },
        }),
      ),
  });
  const faults: Record<string, string | undefined> = Object.fromEntries(
    asked.filter((f) => fields[f.key]?.trim()).map((f) => [f.key, objection(asSetting(f), fields[f.key])]),
  );
  const confirmation = useConfirmation(
    preview.data && {
      confirmDevices: preview.data.confirmDevices,
      secondWanted: preview.data.secondWanted,
    },
    `${spec.title.toLowerCase()} them`,
  );
  const reasoned = spec.reasonRequired || (preview.data?.reasonWanted ?? false);
  const missing =
    asked.some((f) => faults[f.key] || (f.required && !fields[f.key]?.trim())) ||
    (reasoned && !reason.trim()) ||
    (again !== undefined && !complete(again)) ||
    (again === undefined && !said(when));
  async function send() {
    setBusy(true);
    setTrouble(undefined);
    try {
      const body = { ...order, confirmDevices: confirmation.given.confirmDevices };
      if (again) {
        await answer(api.POST('/standing-orders', { body: { ...again, zone: zone(), order: body } }));
        onClose();
        return;
      }
      const made = await answer(
        api.POST('/dispatches', { params: { header: { 'Idempotency-Key': key } }, body }),
      );
      onClose();
      if (spec.key === 'assist') {
        await go(`/devices/screens/${made.id}`);
      }
    } catch (e) {
      setTrouble(e);
      setBusy(false);
    }
  }
  return (
    <Sheet
      title={`${spec.title}: ${device?.name ?? called}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {confirmation.second ? (
            <ProposeButton intent={{ order }} confirmation={confirmation} weight="main" disabled={missing} />
          ) : (
            <Button
              weight={spec.danger === 'wipes' ? 'danger' : 'main'}
              onClick={send}
              disabled={busy || missing || preview.data?.able === 0 || !confirmation.ready}
            >
              {again ? 'Keep it: ' : ''}
              {`${spec.title}${spec.title.includes(' ') ? ':' : ''} ${counted(preview.data?.devices ?? whom.count, 'device')}`}
            </Button>
          )}
        </>
      }
    >
      <p className="text-quiet text-sm">{spec.help}</p>
      {spec.holder && (
        <p className="text-sm">
          <span className="label mr-2">The holder notices</span>
          {spec.holder}
        </p>
      )}
      {spec.danger !== 'none' && (
        <p
          className={`border-l-2 pl-3 text-sm ${spec.danger === 'disturbs' ? 'border-brass' : 'border-rust text-rust'}`}
        >
          {spec.cost}
        </p>
      )}
      {preview.data?.demands.map((d) => (
        <p key={d} className="text-sm">
          <span className="label mr-2">It has to have</span>
          {d}
        </p>
      ))}
      {asked.some((f) => f.spoken) && (
        <Templates command={spec.key} fields={typed} onTake={(words) => setTyped({ ...typed, ...words })} />
      )}
      {asked.map((f) =>
        f.spoken ? (
          <SpokenField
            key={f.key}
            field={f}
            fields={typed}
            error={faults[f.key]}
            onChange={(words) => setTyped(words)}
          />
        ) : (
          <Labelled
            key={f.key}
            label={f.required || chosen(f) ? f.title : `${f.title} (if you like)`}
            error={faults[f.key]}
          >
            <SettingField
              setting={asSetting(f)}
              value={fields[f.key] ?? ''}
              onChange={(value) => setTyped({ ...typed, [f.key]: String(value) })}
            />
          </Labelled>
        ),
      )}
      <Labelled label={reasoned ? 'Reason' : 'Reason (if you like)'} hint="Kept in the journal.">
        <input className="field" maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Labelled>
      {spec.most !== 1 && (
        <WhenFields when={when} onChange={setWhen} timed={!again} idle={spec.danger === 'disturbs'} />
      )}
      {spec.danger !== 'wipes' && spec.most !== 1 && (
        <Repeating
          title={spec.title}
          again={again}
          onChange={(a) => {
            setAgain(a);
          }}
        />
      )}
      {preview.data && (
        <p className="border-line border-t pt-3 text-sm">
          {preview.data.able} of {preview.data.devices} {preview.data.devices === 1 ? 'device' : 'devices'}{' '}
          can carry it out.
          {preview.data.unable.map((u) => (
            <span key={u.reason} className="text-rust block">
              {u.devices} cannot: {u.reason}.
            </span>
          ))}
        </p>
      )}
      {(preview.data?.losses.length ?? 0) > 0 && (
        <div className="border-rust border-l-2 pl-3 text-sm">
          <h3 className="label mb-1">What is lost</h3>
          {preview.data?.losses.map((l) => (
            <p key={l}>{l}</p>
          ))}
        </div>
      )}
      {preview.data?.secondWhy && <p className="text-rust text-sm">{preview.data.secondWhy}</p>}
      {confirmation.fields}
      <Trouble error={trouble ?? preview.error} />
    </Sheet>
  );
}
