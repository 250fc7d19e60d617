import { useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { RehearsalNote } from '../rules/RehearsalNote';
import { TargetPicker } from '../rules/TargetPicker';
import { useDraft } from '../ui/draft';
import { counted, Labelled } from '../ui/parts';
import { onVersion, RecordSheet } from '../ui/RecordSheet';
import { RuleField } from './RuleField';

type Group = Schemas['Group'];

function Moves({ what, devices, some }: { what: string; devices: number; some: string[] }) {
  return devices === 0 ? null : (
    <p className="text-sm">
      {counted(devices, 'device')} {what}: {some.join(', ')}
      {devices > some.length && ` and ${(devices - some.length).toLocaleString('en')} more`}.
    </p>
  );
}

/** Makes a group or writes it anew: picked by hand or by a rule, with groups inside. */
export function GroupSheet({ group, onClose }: { group?: Group; onClose: () => void }) {
  const writing = useDraft(
    {
      name: group?.name ?? '',
      by: group?.rule === undefined ? 'hand' : 'rule',
      rule: group?.rule ?? '',
      inside: group?.inside ?? [],
    },
    group?.version,
  );
  const { draft, set } = writing;
  const body = {
    name: draft.name.trim() || (group?.name ?? 'new'),
    rule: draft.by === 'rule' ? draft.rule : undefined,
    inside: draft.inside.map((g) => g.id),
  };
  const asked = useDeferredValue(JSON.stringify(body));
  const path = { id: group?.id ?? '' };
  const rehearsed = useQuery({
    queryKey: ['groups', 'rehearsal', group?.id, group?.version, asked],
    enabled: group !== undefined && writing.dirty,
    retry: false,
    placeholderData: (before?: Schemas['GroupRehearsal']) => before,
    queryFn: () =>
      answer(
        api.POST('/groups/{id}/rehearsal', { params: { path }, body: JSON.parse(asked) as typeof body }),
      ),
  });
  const r = writing.dirty ? rehearsed.data : undefined;
  const confirmation = useConfirmation(r?.settings, 'save it');
  const save = () =>
    answer(
      group
        ? api.PUT('/groups/{id}', {
            params: { path, header: onVersion(writing) },
            body: { ...body, name: draft.name, ...confirmation.given },
          })
        : api.POST('/groups', { body: { ...body, name: draft.name } }),
    );
  return (
    <RecordSheet
      title={group ? group.name : 'Make a group'}
      list="groups"
      keep={group ? 'Save' : 'Make group'}
      wide
      ready={
        draft.name.trim() !== '' &&
        (draft.by === 'hand' || draft.rule.trim() !== '') &&
        (!r?.settings || confirmation.ready)
      }
      save={save}
      remove="Delete"
      takeAway={group && (() => answer(api.DELETE('/groups/{id}', { params: { path } })))}
      goes={<p>Its {counted(group?.devices ?? 0, 'device')} stay as they are.</p>}
      draft={writing}
      subject={`group:${group?.id}`}
      called={{ name: 'Name', by: 'Devices are in it', rule: 'Rule', inside: 'Groups inside' }}
      say={(v, field) =>
        field === 'inside' ? (v as Group['inside']).map((g) => g.name).join(', ') || 'none' : String(v)
      }
      onClose={onClose}
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={80}
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <fieldset>
        <legend className="label mb-1">Devices are in it</legend>
        <div className="flex gap-6 text-sm">
          {(
            [
              ['hand', 'picked by hand'],
              ['rule', 'by a rule'],
            ] as const
          ).map(([by, words]) => (
            <label key={by} className="flex items-center gap-2">
              <input type="radio" name="by" checked={draft.by === by} onChange={() => set({ by })} />
              {words}
            </label>
          ))}
        </div>
        {draft.by === 'rule' && (group?.picked ?? 0) > 0 && (
          <p className="text-amber mt-1 text-xs">
            The {counted(group!.picked, 'device')} picked by hand {group!.picked === 1 ? 'is' : 'are'} not
            kept.
          </p>
        )}
      </fieldset>
      {draft.by === 'rule' && <RuleField value={draft.rule} onChange={(rule) => set({ rule })} />}
      <TargetPicker
        label="Groups inside, whose devices are in it too"
        kinds={['group']}
        none="none"
        value={draft.inside.map((g) => ({ kind: 'group', ref: g.id, name: g.name }))}
        everyone={false}
        onChange={(to) =>
          set({ inside: to.filter((t) => t.ref !== group?.id).map((t) => ({ id: t.ref, name: t.name })) })
        }
      />
      {r && (
        <div className="border-line space-y-2 border-t pt-3" data-testid="group-rehearsal">
          <p className="text-sm font-semibold">It would have {counted(r.devices, 'device')}.</p>
          <Moves what="come in" devices={r.entering} some={r.entered} />
          <Moves what="go out" devices={r.leaving} some={r.left} />
          {r.settings && (
            <>
              <RehearsalNote rehearsal={r.settings} confirmation={confirmation} />
              {confirmation.second && (
                <ProposeButton
                  intent={{ group: { id: path.id, draft: { ...body, name: draft.name } } }}
                  confirmation={confirmation}
                />
              )}
            </>
          )}
        </div>
      )}
    </RecordSheet>
  );
}
