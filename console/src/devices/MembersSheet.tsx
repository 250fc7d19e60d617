import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { RehearsalNote } from '../rules/RehearsalNote';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Trouble } from '../ui/parts';

type Members = Schemas['GroupMembers'];

/** What came of looking at what a change of members would do. */
interface Looked {
  body: Members;
  said: string;
  rehearsal: Schemas['Rehearsal'];
}

/** Says what putting a device in or taking it out does to its settings, before it is done. */
function Before({
  group,
  looked,
  busy,
  onDo,
  onCancel,
}: {
  group: Schemas['Group'];
  looked: Looked;
  busy: boolean;
  onDo: (body: Members) => void;
  onCancel: () => void;
}) {
  const confirmation = useConfirmation(looked.rehearsal, 'do it');
  return (
    <div className="border-brass space-y-2 border-l-2 pl-3" data-testid="members-rehearsal">
      <p className="text-sm font-semibold">{looked.said}</p>
      <RehearsalNote rehearsal={looked.rehearsal} confirmation={confirmation} />
      <div className="flex flex-wrap gap-2">
        {confirmation.second ? (
          <ProposeButton
            intent={{ members: { id: group.id, members: looked.body } }}
            confirmation={confirmation}
          />
        ) : (
          <Button
            weight="main"
            disabled={busy || !confirmation.ready}
            onClick={() => onDo({ ...looked.body, ...confirmation.given })}
          >
            Go on: change {counted(looked.rehearsal.changing, 'device')}
          </Button>
        )}
        <Button onClick={onCancel}>Leave it</Button>
      </div>
    </div>
  );
}

/** Puts devices into a group and takes them out. */
export function MembersSheet({ group, onClose }: { group: Schemas['Group']; onClose: () => void }) {
  const { act, trouble, busy } = useAct('devices', 'groups', 'changes');
  const [words, setWords] = useState('');
  const [looked, setLooked] = useState<Looked>();
  const path = { id: group.id };
  const inside = useQuery({
    queryKey: ['devices', 'members', group.id, words],
    queryFn: () =>
      answer(api.GET('/devices', { params: { query: { group: group.id, q: words, limit: 200 } } })),
  });
  const found = useQuery({
    queryKey: ['devices', 'candidates', words],
    queryFn: () => answer(api.GET('/devices', { params: { query: { q: words, limit: 50 } } })),
  });
  const members = new Set(inside.data?.items.map((d) => d.id));
  const change = (body: Members) =>
    act(
      () => answer(api.POST('/groups/{id}/members', { params: { path }, body })),
      () => setLooked(undefined),
    );
  // what changes no settings is done at once; all else is said first
  const look = (body: Members, said: string) =>
    act(
      () => answer(api.POST('/groups/{id}/members/rehearsal', { params: { path }, body })),
      (rehearsal) => {
        if (rehearsal.changing === 0) {
          void change(body);
        } else {
          setLooked({ body, said, rehearsal });
        }
      },
    );
  return (
    <Sheet
      title={`Members of ${group.name}`}
      onClose={onClose}
      actions={
        <Button weight="main" onClick={onClose}>
          Close
        </Button>
      }
    >
      <input
        type="search"
        aria-label="Find devices"
        placeholder="Name, serial, model"
        className="field"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      {looked && (
        <Before
          key={looked.said}
          group={group}
          looked={looked}
          busy={busy}
          onDo={(body) => void change(body)}
          onCancel={() => setLooked(undefined)}
        />
      )}
      <ul className="max-h-80 overflow-y-auto text-sm">
        {found.data?.items.map((d) => (
          <li key={d.id} className="border-line/60 flex items-center border-b py-1">
            <span className="flex-1">{d.name}</span>
            {members.has(d.id) ? (
              <Button
                weight="bare"
                disabled={busy}
                onClick={() => void look({ remove: [d.id] }, `Take ${d.name} out`)}
              >
                Take out
              </Button>
            ) : (
              <Button
                weight="bare"
                disabled={busy}
                onClick={() => void look({ add: [d.id] }, `Put ${d.name} in`)}
              >
                Put in
              </Button>
            )}
          </li>
        ))}
      </ul>
      {group.inside.length > 0 && (
        <p className="text-quiet text-xs">
          Devices of {group.inside.map((g) => g.name).join(', ')} are in it too, and stay as long as they are
          in there.
        </p>
      )}
      <Trouble error={trouble ?? found.error ?? inside.error} />
    </Sheet>
  );
}
