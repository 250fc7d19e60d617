import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { moment } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { ProposeButton, useConfirmation } from './confirmation';
import { WaveFields, wavesFault, type WavesSpec } from './waves';
import { begins } from './window';

const say = (v: unknown) =>
  v === undefined
    ? 'none'
    : v === true
      ? 'on'
      : v === false
        ? 'off'
        : Array.isArray(v)
          ? v.join(', ')
          : String(v);

function Count({ n, word }: { n: number; word: string }) {
  return (
    <span className={n === 0 ? 'text-quiet' : ''}>
      <b className="text-lg">{n}</b> {word}
    </span>
  );
}

/** The devices of one effect: some by name, and all of them on asking. */
function Behind({ profile, effect: e }: { profile?: string; effect: Schemas['RehearsalEffect'] }) {
  const [open, setOpen] = useState(false);
  const pages = usePages<Schemas['NamedRef']>(
    ['rehearsal', profile, e.id],
    (after) =>
      answer(
        api.GET('/profiles/{id}/rehearsal/{effect}/devices', {
          params: { path: { id: profile!, effect: e.id }, query: { after, limit: 200 } },
        }),
      ),
    open,
  );
  const shown = open && pages.items.length > 0 ? pages.items : e.examples;
  const more = e.devices - shown.length;
  return (
    <div className={`text-quiet text-xs ${open ? 'max-h-40 overflow-y-auto' : ''}`}>
      {shown.map((x, i) => (
        <span key={x.id}>
          {i > 0 && ', '}
          <Link className="underline" to={`/devices/${x.id}`}>
            {x.name}
          </Link>
        </span>
      ))}
      {more > 0 && !profile && <span> and {more} more</span>}
      {more > 0 && profile && (
        <button
          type="button"
          className="text-brass ml-1 underline"
          onClick={() => (open ? void pages.fetchNextPage() : setOpen(true))}
        >
          {open ? `show the next of ${more} more` : `and ${more} more: show all`}
        </button>
      )}
      <Trouble error={pages.error} />
    </div>
  );
}

/** Which devices change and how, what conflicts and what cannot be done. */
export function Effects({ rehearsal: r, profile }: { rehearsal: Schemas['Rehearsal']; profile?: string }) {
  return (
    <>
      <p className="flex flex-wrap gap-6 text-sm" data-testid="rehearsal">
        <Count n={r.gain} word="gain settings" />
        <Count n={r.change} word="change" />
        <Count n={r.lose} word="lose settings" />
        <Count n={r.devices - r.changing} word="stay as they are" />
      </p>
      {r.conflicts.map((c) => (
        <p key={c.setting} className="border-amber border-l-2 pl-3 text-sm">
          <b>Conflict on {c.title}</b>, {c.devices} devices: {c.wins} wins over {c.loses.join(', ')} because
          it is published later. Give one of them a nearer target to settle it.
        </p>
      ))}
      {r.shortages.map((s) => (
        <p key={s.app} className="border-rust border-l-2 pl-3 text-sm" data-testid="shortage">
          <b>
            {s.app} is {counted(s.lacking, 'license')} short:
          </b>{' '}
          {counted(s.wanting, s.licensing === 'by-holder' ? 'holder' : 'device')} would need one, {s.free}{' '}
          {s.free === 1 ? 'is' : 'are'} free. Those to whom it is required get theirs first, in the order they
          were enrolled; the others wait until one is free.
        </p>
      ))}
      {r.unsupported.map((u) => (
        <p key={u.setting + u.reason + u.profile} className="border-slate text-quiet border-l-2 pl-3 text-sm">
          {u.devices} {u.devices === 1 ? 'device' : 'devices'} cannot have {u.title}: it {u.reason}.
        </p>
      ))}
      <div className="max-h-80 space-y-4 overflow-y-auto">
        {r.effects.map((e) => (
          <section key={e.id}>
            <h3 className="text-sm font-semibold">
              {e.devices} {e.devices === 1 ? 'device' : 'devices'}, {e.platform} {e.osLevel} or later,{' '}
              {e.mode}
            </h3>
            <Behind profile={profile} effect={e} />
            <table className="mt-1 w-full text-sm">
              <tbody>
                {e.steps.map((s) => (
                  <tr key={s.setting} className="border-line/60 border-b">
                    <td className="py-1 pr-4">{s.title}</td>
                    <td className="text-quiet py-1 pr-2 text-right line-through">
                      {s.from === undefined ? '' : say(s.from)}
                    </td>
                    <td className="w-1/2 py-1">{say(s.to)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        ))}
      </div>
    </>
  );
}

/** What publishing would do, and the button that does it. */
export function RehearsalSheet({ profile, onClose }: { profile: Schemas['Profile']; onClose: () => void }) {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const [waves, setWaves] = useState<WavesSpec>();
  const rehearsal = useQuery({
    queryKey: ['rehearsal', profile.id, profile.version],
    gcTime: 0,
    queryFn: () => answer(api.GET('/profiles/{id}/rehearsal', { params: { path: { id: profile.id } } })),
  });
  const r = rehearsal.data;
  const confirmation = useConfirmation(r, 'publish');
  async function publish() {
    setBusy(true);
    try {
      await answer(
        api.POST('/profiles/{id}/publication', {
          params: { path: { id: profile.id }, header: onVersion(profile) },
          body: { ...confirmation.given, waves },
        }),
      );
      await queries.invalidateQueries();
      onClose();
    } catch (e) {
      setTrouble(e);
      setBusy(false);
    }
  }
  const inWaves = profile.kind !== 'kit' && r && r.changing > 1 && !r.begins;
  const next = (profile.publishedVersion ?? 0) + 1;
  return (
    <Sheet
      wide
      title={`${profile.name}: what version ${next} would do`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Back to the draft</Button>
          {r && r.changing > 0 && (
            <ProposeButton
              intent={{ publish: { id: profile.id, waves } }}
              confirmation={confirmation}
              weight={confirmation.second ? 'main' : undefined}
            />
          )}
          <Button
            weight="main"
            disabled={busy || !confirmation.ready || (waves && wavesFault(waves)) !== undefined}
            onClick={() => void publish()}
          >
            {waves ? 'Begin the first wave of' : 'Publish to'} {r?.changing ?? '…'}{' '}
            {r?.changing === 1 ? 'device' : 'devices'}
          </Button>
        </>
      }
    >
      <Trouble error={rehearsal.error} />
      {r && (
        <>
          {r.begins && (
            <p className="border-brass border-l-2 pl-3 text-sm">
              It begins on {moment(r.begins)}. This is what it does then; nothing happens before.
            </p>
          )}
          {begins(profile.window) && !r.begins && (
            <p className="border-amber border-l-2 pl-3 text-sm">
              It begins on {moment(profile.window.from!)}. Until then devices are without it, as shown.
            </p>
          )}
          {profile.window.until && (
            <p className="border-brass border-l-2 pl-3 text-sm">
              It ends on {moment(profile.window.until)}; devices lose it again then.
            </p>
          )}
          <Effects rehearsal={r} profile={profile.id} />
          {inWaves && <WaveFields value={waves} onChange={setWaves} />}
          {confirmation.fields}
        </>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}
