import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { Copy, Download, Mail, Printer, X } from 'lucide-react';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useEnrollmentProfiles } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useAct } from '../api/act';
import { Sheet } from '../ui/Dialog';
import { PersonPick } from '../organisation/choices';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { day } from '../ui/dates';
import { Button, Empty, Labelled, linkButton, Moment, Trouble, sideCard } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { SheetLink } from '../ui/SheetLink';
import { useSelection } from '../ui/selection';
import { Standing } from '../ui/Standing';
import { InviteMany } from './InviteMany';

type Invitation = Schemas['Invitation'];

const columns: ColumnDef<Invitation>[] = [
  pickColumn<Invitation>((i) => `…${i.codeEnds}`),
  {
    id: 'code',
    header: 'Code',
    size: 90,
    accessorFn: (i) => `…${i.codeEnds}`,
    cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue())}</span>,
  },
  { id: 'to', header: 'To', size: 220, accessorFn: (i) => i.profile },
  {
    id: 'state',
    header: 'State',
    size: 110,
    accessorFn: (i) => i.state,
    cell: ({ row }) => <Standing of={row.original.state} />,
  },
  { id: 'used', header: 'Used', size: 110, accessorFn: (i) => `${i.uses} of ${i.usesAllowed}` },
  { id: 'for', header: 'For', size: 190, accessorFn: (i) => i.person ?? i.note },
  {
    id: 'mail',
    header: 'Mail',
    size: 120,
    accessorFn: (i) => i.mailState,
    cell: ({ row }) =>
      row.original.mailState === 'none' ? (
        ''
      ) : (
        <Standing of={row.original.mailState} reason={row.original.mailFault} />
      ),
  },
  {
    id: 'expires',
    header: 'Expires',
    size: 130,
    accessorFn: (i) => day(i.expiresAt),
  },
  {
    id: 'made',
    header: 'Made',
    size: 120,
    accessorFn: (i) => i.createdAt,
    cell: ({ row }) => <Moment at={row.original.createdAt} />,
  },
];

function Make({ onClose, onMade }: { onClose: () => void; onMade: (id: string) => void }) {
  const profiles = useEnrollmentProfiles();
  const [profileId, setProfile] = useState('');
  const [uses, setUses] = useState(1);
  const [days, setDays] = useState(7);
  const [note, setNote] = useState('');
  const [person, setPerson] = useState<{ id: string; name: string }>();
  const [mail, setMail] = useState(true);
  const { act, trouble, busy } = useAct('invitations');
  const none = profiles.data?.items.length === 0;
  const make = () =>
    act(
      () =>
        answer(
          api.POST('/invitations', {
            body: {
              ...{ profileId, uses, note, expiresInMinutes: days * 24 * 60 },
              ...(person ? { personId: person.id, mail } : {}),
            },
          }),
        ),
      (made) => onMade(made.id),
    );
  return (
    <Sheet
      title="Make an invitation"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={!profileId || busy} onClick={() => void make()}>
            Make invitation
          </Button>
        </>
      }
    >
      {none && (
        <p className="text-sm">
          First{' '}
          <Link className="text-brass underline" to="/intake/profiles?new=1">
            write an enrollment profile
          </Link>
          : it decides how devices join.
        </p>
      )}
      <Labelled label="Enrollment profile">
        <select className="field" value={profileId} onChange={(e) => setProfile(e.target.value)}>
          <option value="">Choose one</option>
          {profiles.data?.items.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </Labelled>
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="How many devices may use it">
          <input
            type="number"
            min={1}
            className="field"
            value={uses}
            onChange={(e) => setUses(Number(e.target.value))}
          />
        </Labelled>
        <Labelled label="Days it holds">
          <input
            type="number"
            min={1}
            max={365}
            className="field"
            value={days}
            onChange={(e) => setDays(Number(e.target.value))}
          />
        </Labelled>
      </div>
      <PersonPick label="For" name={person?.name} onChange={setPerson} />
      {person && (
        <label className="flex items-center gap-2 text-sm">
          <input type="checkbox" checked={mail} onChange={(e) => setMail(e.target.checked)} />
          Mail it to {person.name}
        </label>
      )}
      <Labelled label="Note" hint="For you: where or for whom it is.">
        <input className="field" value={note} maxLength={200} onChange={(e) => setNote(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

function Card({ id, onClose }: { id: string; onClose: () => void }) {
  const { act, trouble } = useAct('invitations');
  const invitation = useQuery({
    queryKey: ['invitations', 'card', id],
    queryFn: () => answer(api.GET('/invitations/{id}', { params: { path: { id } } })),
  });
  const [copied, setCopied] = useState('');
  const copy = async (what: string, text: string) => {
    await navigator.clipboard.writeText(text);
    setCopied(what);
  };
  const withdraw = () =>
    act(() => answer(api.POST('/invitations/{id}/withdrawal', { params: { path: { id } } })));
  const remind = () =>
    act(() => answer(api.POST('/invitations/{id}/reminder', { params: { path: { id } } })));
  const extend = () =>
    act(() => answer(api.POST('/invitations/{id}/extension', { params: { path: { id } }, body: {} })));
  const i = invitation.data;
  if (!i) {
    return <Trouble error={invitation.error} />;
  }
  const base = `/api/v1/invitations/${i.id}`;
  const link = i.link;
  return (
    <aside aria-label="Invitation" className={`${sideCard} gap-4 p-5`}>
      <div className="flex items-start">
        <div className="flex-1">
          <h2 className="text-base font-semibold">{i.profile}</h2>
          <p className="text-quiet text-sm">{i.note || 'Invitation'}</p>
        </div>
        <Button weight="bare" aria-label="Close the card" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      {i.code ? (
        <div className="frame mx-1 grid place-items-center gap-2 p-4">
          <img src={`${base}/qr.svg`} alt="QR code of the join link" className="size-60 bg-white" />
          <p className="font-mono text-lg tracking-wide" data-testid="code">
            {i.code}
          </p>
        </div>
      ) : (
        <p className="text-quiet text-sm">
          The code ends in <span className="font-mono">{i.codeEnds}</span>. All of it is shown to those who
          may invite.
        </p>
      )}
      <div className="flex items-center gap-3 text-sm">
        <Standing of={i.state} />
        <span className="text-quiet">
          {i.uses} of {i.usesAllowed} used, until {day(i.expiresAt)}
        </span>
      </div>
      {i.mail && (
        <p className="text-sm">
          For {i.person}, {i.mail}: <Standing of={i.mailState} />{' '}
          {i.mailedAt && (
            <span className="text-quiet">
              <Moment at={i.mailedAt} />
              {i.mailedTimes > 1 && `, ${i.mailedTimes} times`}
            </span>
          )}
          {i.mailFault && <span className="text-rust block">{i.mailFault}</span>}
        </p>
      )}
      {link && (
        <Labelled label="Join link">
          <textarea
            readOnly
            rows={3}
            className="field font-mono text-xs break-all"
            value={link}
            data-testid="link"
          />
        </Labelled>
      )}
      <div className="flex flex-wrap gap-2">
        {link && (
          <>
            <Button onClick={() => void copy('link', link)}>
              <Copy className="size-4" /> {copied === 'link' ? 'Copied' : 'Copy link'}
            </Button>
            <a href={`${base}/qr.png`} download={`invitation-${i.codeEnds}.png`} className={linkButton}>
              <Download className="size-4" /> QR code
            </a>
            <a href={`${base}/join-file`} download="join.json" className={linkButton}>
              <Download className="size-4" /> Join file
            </a>
          </>
        )}
        {i.mail && (i.state === 'open' || i.state === 'lapsed') && (
          <Button onClick={() => void remind()}>
            <Mail className="size-4" /> {i.mailedTimes > 0 ? 'Mail again' : 'Mail it'}
          </Button>
        )}
        {(i.state === 'open' || i.state === 'lapsed') && (
          <Button onClick={() => void extend()}>A week from today</Button>
        )}
        {i.state === 'open' && (
          <Button weight="danger" onClick={() => void withdraw()}>
            Withdraw
          </Button>
        )}
      </div>
      <Trouble error={trouble} />
      <p className="text-quiet text-xs">
        The holder scans the code, or types the link. The last part of the link names this server's own root,
        so that no other server can take its place.
      </p>
    </aside>
  );
}

/** Invitations with their codes. */
export function InvitationsPage() {
  const [search, setSearch] = useSearchParams();
  const filters = useFilters(['q', 'state'] as const);
  const { q, state } = filters.query;
  const selection = useSelection(JSON.stringify(filters.query));
  const picked = selection.selection.all ? [] : selection.selection.ids;
  return (
    <ListPage<Invitation>
      list="invitations"
      title="Invitations"
      note="codes, links and QR codes to join by"
      actions={
        <>
          {picked.length > 0 && (
            <a
              href={`/api/v1/invitations/sheet.pdf?${picked.map((id) => `id=${id}`).join('&')}`}
              target="_blank"
              rel="noreferrer"
              className={linkButton}
            >
              <Printer className="size-4" /> Print {picked.length === 1 ? '1 card' : `${picked.length} cards`}
            </a>
          )}
          <SheetLink path="/invitations.csv" asked={filters.query} name="invitations.csv" />
          <Button onClick={() => setSearch({ new: 'many' })}>Invite many people</Button>
          <Button weight="main" onClick={() => setSearch({ new: '1' })}>
            Make an invitation
          </Button>
        </>
      }
      columns={columns}
      query={['invitations', q, state]}
      load={(after) =>
        answer(api.GET('/invitations', { params: { query: { q, state, after, limit: 100 } } }))
      }
      selection={selection}
      toolbar={
        <>
          <Words filters={filters} placeholder="Person, note, profile" />
          <Choice
            filters={filters}
            name="state"
            label="State"
            options={plain(['open', 'spent', 'lapsed', 'withdrawn'])}
          />
        </>
      }
      card={(id, close) => <Card key={id} id={id} onClose={close} />}
      empty={
        <Empty title="There are no such invitations.">Make one above and show its QR code to a device.</Empty>
      }
    >
      {search.get('new') === '1' && (
        <Make onClose={() => setSearch({})} onMade={(id) => setSearch({ card: id })} />
      )}
      {search.get('new') === 'many' && <InviteMany onClose={() => setSearch({})} />}
    </ListPage>
  );
}
