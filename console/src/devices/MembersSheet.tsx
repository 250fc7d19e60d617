import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';

/** Puts devices into a group and takes them out. */
export function MembersSheet({ group, onClose }: { group: Schemas['Group']; onClose: () => void }) {
  const queries = useQueryClient();
  const [words, setWords] = useState('');
  const [trouble, setTrouble] = useState<unknown>();
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
  async function change(body: Schemas['GroupMembers']) {
    try {
      await answer(api.POST('/groups/{id}/members', { params: { path: { id: group.id } }, body }));
      await queries.invalidateQueries();
    } catch (e) {
      setTrouble(e);
    }
  }
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
      <ul className="max-h-80 overflow-y-auto text-sm">
        {found.data?.items.map((d) => (
          <li key={d.id} className="border-line/60 flex items-center border-b py-1">
            <span className="flex-1">{d.name}</span>
            {members.has(d.id) ? (
              <Button weight="bare" onClick={() => void change({ remove: [d.id] })}>
                Take out
              </Button>
            ) : (
              <Button weight="bare" onClick={() => void change({ add: [d.id] })}>
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
      <Trouble error={trouble} />
    </Sheet>
  );
}
