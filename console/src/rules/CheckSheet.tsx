import { useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { RuleField } from '../devices/RuleField';
import { useDraft } from '../ui/draft';
import { counted, Labelled, Trouble } from '../ui/parts';
import { onVersion, RecordSheet } from '../ui/RecordSheet';
import { ProposeButton, useConfirmation } from './confirmation';
import { LadderFields, ladderFault, sayLadder, type Ladder } from './ladder';
import { RehearsalNote } from './RehearsalNote';
import { TargetPicker } from './TargetPicker';

type Check = Schemas['Check'];

const USUAL: Ladder = { grace: 72, holder: 0, house: 72 };

/** What a check as written would do, in words. */
function sayRehearsal(r: Schemas['CheckRehearsal'], ladder: Ladder): string {
  const now = [
    r.outOfOrder > 0 && `${counted(r.outOfOrder, 'device')} more would be out of order at once`,
    r.inOrder > 0 && `${counted(r.inOrder, 'device')} would no longer be out of order`,
    r.withheld > 0 && `something would be withheld from ${r.withheld}`,
  ].filter(Boolean);
  const found = `It finds ${counted(r.found, 'device')}`;
  if (now.length > 0) {
    return `${found}; ${now.join(', ')}.`;
  }
  return r.found > 0 && ladder.grace > 0
    ? `${found}; they have time left before anything else follows.`
    : `${found}; nothing changes at once.`;
}

/** Makes a check or writes it anew, having said what it would do. */
export function CheckSheet({ check, onClose }: { check?: Check; onClose: () => void }) {
  const templates = useQuery({
    queryKey: ['check-templates'],
    enabled: check === undefined,
    staleTime: Infinity,
    queryFn: () => answer(api.GET('/checks/templates')),
  });
  const writing = useDraft(
    {
      name: check?.name ?? '',
      by: check && !check.ownGroup ? 'group' : 'rule',
      rule: check?.rule ?? '',
      group: check && !check.ownGroup ? check.group : undefined,
      advice: check?.advice ?? '',
      ladder: check?.ladder ?? USUAL,
    },
    check?.version,
  );
  const { draft, set } = writing;
  const body = {
    name: draft.name.trim() || 'new',
    advice: draft.advice.trim() || '-',
    rule: draft.by === 'rule' ? draft.rule : undefined,
    groupId: draft.by === 'group' ? draft.group?.id : undefined,
    ladder: draft.ladder,
  };
  const whole = draft.by === 'rule' ? draft.rule.trim() !== '' : draft.group !== undefined;
  const sound = whole && !ladderFault(draft.ladder);
  const asked = useDeferredValue(JSON.stringify(body));
  const path = { id: check?.id ?? '' };
  const rehearsed = useQuery({
    queryKey: ['checks', 'rehearsal', check?.id, check?.version, asked],
    enabled: sound && (check === undefined || writing.dirty),
    retry: false,
    placeholderData: (before?: Schemas['CheckRehearsal']) => before,
    queryFn: () => {
      const said = JSON.parse(asked) as typeof body;
      return answer(
        check
          ? api.POST('/checks/{id}/rehearsal', { params: { path }, body: said })
          : api.POST('/checks/rehearsal', { body: said }),
      );
    },
  });
  const r = sound && (check === undefined || writing.dirty) ? rehearsed.data : undefined;
  const confirmation = useConfirmation(r, 'save it');
  const written = { ...body, name: draft.name, advice: draft.advice };
  const save = () => {
    const given = { ...written, ...confirmation.given };
    return answer(
      check
        ? api.PUT('/checks/{id}', { params: { path, header: onVersion(writing) }, body: given })
        : api.POST('/checks', { body: given }),
    );
  };
  const gone = useQuery({
    queryKey: ['checks', 'deletion', check?.id, check?.version],
    enabled: check !== undefined,
    retry: false,
    queryFn: () => answer(api.POST('/checks/{id}/deletion/rehearsal', { params: { path } })),
  });
  const going = useConfirmation(gone.data, 'delete it');
  return (
    <RecordSheet
      title={check ? check.name : 'Make a check'}
      list="checks"
      keep={check ? 'Save' : 'Make check'}
      wide
      ready={
        draft.name.trim() !== '' &&
        draft.advice.trim() !== '' &&
        sound &&
        (confirmation.ready || (check !== undefined && !writing.dirty))
      }
      save={save}
      remove="Delete"
      takeAway={
        check &&
        (() =>
          answer(
            api.DELETE('/checks/{id}', {
              params: { path, header: onVersion(check), query: going.given },
            }),
          ))
      }
      mayGo={going.ready}
      goes={
        <>
          <p>
            {check && counted(check.outOfOrder + check.inGrace, 'device')} it finds no longer{' '}
            {check && check.outOfOrder + check.inGrace === 1 ? 'counts' : 'count'} as out of order for it;
            what was withheld is given back.
          </p>
          {going.second ? (
            <>
              {going.fields}
              <ProposeButton intent={{ deleteCheck: path }} confirmation={going} />
            </>
          ) : (
            going.fields
          )}
        </>
      }
      draft={writing}
      subject={`check:${check?.id}`}
      called={{
        name: 'Name',
        by: 'It finds',
        rule: 'Rule',
        group: 'Group',
        advice: 'Advice',
        ladder: 'What follows',
      }}
      say={(v, field) =>
        field === 'ladder'
          ? sayLadder(v as Ladder)
          : field === 'group'
            ? ((v as Check['group'])?.name ?? 'none')
            : String(v)
      }
      onClose={onClose}
    >
      {!check && (
        <Labelled label="Start from">
          <select
            className="field"
            defaultValue=""
            onChange={(e) => {
              const t = templates.data?.find((x) => x.key === e.target.value);
              if (t) {
                set({
                  name: t.title,
                  by: 'rule',
                  rule: t.rule,
                  advice: t.advice,
                  ladder: { grace: t.grace, holder: 0, house: t.grace },
                });
              }
            }}
          >
            <option value="">a rule of one’s own</option>
            {templates.data?.map((t) => (
              <option key={t.key} value={t.key}>
                {t.title}: {t.help}
              </option>
            ))}
          </select>
        </Labelled>
      )}
      <Labelled label="Name">
        <input
          className="field"
          maxLength={60}
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <fieldset>
        <legend className="label mb-1">It finds devices</legend>
        <div className="flex gap-6 text-sm">
          {(
            [
              ['rule', 'by a rule'],
              ['group', 'of a group'],
            ] as const
          ).map(([by, words]) => (
            <label key={by} className="flex items-center gap-2">
              <input type="radio" name="by" checked={draft.by === by} onChange={() => set({ by })} />
              {words}
            </label>
          ))}
        </div>
      </fieldset>
      {draft.by === 'rule' ? (
        <RuleField value={draft.rule} onChange={(rule) => set({ rule })} />
      ) : (
        <TargetPicker
          label="Group whose devices are not in order"
          kinds={['group']}
          none="none yet"
          value={draft.group ? [{ kind: 'group', ref: draft.group.id, name: draft.group.name }] : []}
          everyone={false}
          onChange={(to) => {
            const last = to.at(-1);
            set({ group: last && { id: last.ref, name: last.name } });
          }}
        />
      )}
      <Labelled label="What the holder is told to do" hint="The device shows it, with the time that is left.">
        <input
          className="field"
          maxLength={300}
          placeholder="Update the system of the device."
          value={draft.advice}
          onChange={(e) => set({ advice: e.target.value })}
        />
      </Labelled>
      <LadderFields value={draft.ladder} onChange={(ladder) => set({ ladder })} />
      {sound && <Trouble error={rehearsed.error} />}
      {r && (
        <div className="border-line space-y-2 border-t pt-3" data-testid="check-rehearsal">
          <p className="text-sm font-semibold">{sayRehearsal(r, draft.ladder)}</p>
          {r.settings ? (
            <RehearsalNote rehearsal={r.settings} confirmation={confirmation} />
          ) : (
            confirmation.fields
          )}
          {confirmation.second && (
            <ProposeButton
              intent={{ check: { id: check?.id, draft: written } }}
              confirmation={confirmation}
            />
          )}
        </div>
      )}
    </RecordSheet>
  );
}
