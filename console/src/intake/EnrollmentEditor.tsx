import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { Sheet } from '../ui/Dialog';
import { useDraft } from '../ui/draft';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { SavedMeanwhile } from '../ui/SavedMeanwhile';
import { FirstUse, WhoAndWhere } from './EnrollmentFields';
import { HolderPreview } from './HolderPreview';

type Profile = Schemas['EnrollmentProfile'];
type Draft = Schemas['EnrollmentProfileDraft'];

const fresh: Draft = {
  name: '',
  ownership: 'corporate',
  mode: 'supervised',
  platforms: [],
  signIn: 'none',
  namePattern: '{model} {serial}',
  tags: [],
  groups: [],
  minimumOs: {},
  approval: false,
};

/** What of a profile as shown can be written again. */
function written(p: Profile): Draft {
  const { name, ownership, mode, platforms, kinds, signIn, directoryGroup, termsVersion } = p;
  const { minimumOs, approval, rosterOnly, namePattern, fillGaps, unitId, siteId, groups, tags } = p;
  const { firstRun, readyGate, removable, comesBack } = p;
  return {
    ...{ name, ownership, mode, platforms, kinds, signIn, directoryGroup, termsVersion },
    ...{ minimumOs, approval, rosterOnly, namePattern, fillGaps, unitId, siteId, groups, tags },
    ...{ firstRun, readyGate, removable, comesBack },
  };
}

const places: Record<string, string> = {
  invitation: '/intake/invitations?card=',
  identifier: '/intake/roster?card=',
  gateway: '/house/gateways?open=',
  device: '/devices?card=',
};

function UsesAndVersions({ id }: { id: string }) {
  const path = { id };
  const uses = useQuery({
    queryKey: ['enrollment-profiles', 'uses', id],
    queryFn: () => answer(api.GET('/enrollment-profiles/{id}/uses', { params: { path } })),
  });
  const versions = useQuery({
    queryKey: ['enrollment-profiles', 'versions', id],
    queryFn: () =>
      answer(api.GET('/enrollment-profiles/{id}/versions', { params: { path, query: { limit: 20 } } })),
  });
  return (
    <div className="grid grid-cols-2 max-md:grid-cols-1 gap-8 text-sm">
      <section>
        <h3 className="border-line border-b pb-1 font-semibold">Where it is used</h3>
        <ul className="max-h-80 overflow-y-auto">
          {uses.data?.map((u) => (
            <li key={u.kind + u.id} className="border-line/60 flex h-8 items-center gap-3 border-b">
              <span className="text-quiet w-20">{u.kind}</span>
              <Link className="truncate hover:underline" to={`${places[u.kind]}${u.id}`}>
                {u.name}
              </Link>
            </li>
          ))}
          {uses.data?.length === 0 && <li className="text-quiet py-2">Nowhere: it can be deleted.</li>}
        </ul>
      </section>
      <section>
        <h3 className="border-line border-b pb-1 font-semibold">Who wrote it</h3>
        <ul className="max-h-80 overflow-y-auto">
          {versions.data?.items.map((v) => (
            <li key={v.number} className="border-line/60 flex h-8 items-center gap-3 border-b">
              <span className="w-20">version {v.number}</span>
              <span className="flex-1">{v.writtenBy}</span>
              <span className="text-quiet text-xs">
                <Moment at={v.writtenAt} />
              </span>
            </li>
          ))}
        </ul>
      </section>
      <Trouble error={uses.error ?? versions.error} />
    </div>
  );
}

function Copy({ before, onClose }: { before: Profile; onClose: () => void }) {
  const { act, trouble, busy } = useAct('enrollment-profiles');
  const [name, setName] = useState(`${before.name}, copy`);
  return (
    <Sheet
      title={`Copy ${before.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !name.trim()}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/enrollment-profiles/{id}/copies', {
                      params: { path: { id: before.id } },
                      body: { name },
                    }),
                  ),
                onClose,
              )
            }
          >
            Copy
          </Button>
        </>
      }
    >
      <Labelled label="Name of the copy">
        <input className="field" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Writes an enrollment profile; beside it what its holders will go through. */
export function EnrollmentEditor({ before, onClose }: { before?: Profile; onClose: () => void }) {
  const writing = useDraft<Draft>(before ? written(before) : fresh, before?.version);
  const { draft, set } = writing;
  const [copying, setCopying] = useState(false);
  const [tab, setTab] = useState(0);
  const { act, trouble, busy } = useAct('enrollment-profiles');
  const save = () =>
    act(
      () =>
        answer(
          before
            ? api.PUT('/enrollment-profiles/{id}', {
                params: { path: { id: before.id }, header: onVersion(writing) },
                body: draft,
              })
            : api.POST('/enrollment-profiles', { body: draft }),
        ),
      onClose,
    );
  const remove = () =>
    act(
      () => answer(api.DELETE('/enrollment-profiles/{id}', { params: { path: { id: before!.id } } })),
      onClose,
    );
  if (copying && before) {
    return <Copy before={before} onClose={onClose} />;
  }
  const tabs = ['Who and where', 'First use', ...(before ? ['Uses and versions'] : [])];
  return (
    <Sheet
      wide="very"
      title={before ? before.name : 'Write an enrollment profile'}
      onClose={onClose}
      actions={
        <>
          {before && (
            <span className="mr-auto flex gap-2">
              <AskButton doing={`Delete ${before.name}`} trouble={trouble} onYes={remove}>
                <p>Nobody can join by it any more. Devices that joined by it stay as they are.</p>
              </AskButton>
              <Button onClick={() => setCopying(true)}>Copy</Button>
            </span>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !draft.name.trim() || writing.clashes.length > 0}
            onClick={() => void save()}
          >
            {before ? 'Save' : 'Write enrollment profile'}
          </Button>
        </>
      }
    >
      <SavedMeanwhile
        draft={writing}
        subject={`enrollment-profile:${before?.id}`}
        called={(f) => f.replace(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`)}
      />
      <div className="flex gap-8 max-md:flex-col">
        <TabGroup className="min-w-0 flex-1" selectedIndex={tab} onChange={setTab}>
          <TabList className="border-line mb-4 flex gap-6 border-b">
            {tabs.map((t) => (
              <Tab
                key={t}
                className="data-selected:border-brass data-hover:border-line -mb-px border-b-2 border-transparent px-1 pb-2 text-sm data-selected:font-semibold"
              >
                {t}
              </Tab>
            ))}
          </TabList>
          <TabPanels>
            <TabPanel>
              <WhoAndWhere draft={draft} set={set} before={before} />
            </TabPanel>
            <TabPanel>
              <FirstUse draft={draft} set={set} />
            </TabPanel>
            {before && (
              <TabPanel>
                <UsesAndVersions id={before.id} />
              </TabPanel>
            )}
          </TabPanels>
        </TabGroup>
        <HolderPreview draft={draft} from={tab === 1 ? 'first-run' : undefined} />
      </div>
      {before && (
        <p className="text-quiet text-xs">
          Needed by {counted(before.invitations, 'open invitation')} and{' '}
          {counted(before.identifiers, 'identifier')}; {counted(before.devices, 'device')} joined by it. A
          change counts for devices that join from now on.
        </p>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}
