import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { Sheet } from '../ui/Dialog';
import { useDraft } from '../ui/draft';
import { Button, counted, Labelled, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { SavedMeanwhile } from '../ui/SavedMeanwhile';
import { FirstUse, WhoAndWhere } from './EnrollmentFields';
import { called, UsesAndVersions, written } from './EnrollmentVersions';
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
      () =>
        answer(
          api.DELETE('/enrollment-profiles/{id}', {
            params: { path: { id: before!.id }, header: onVersion(writing) },
          }),
        ),
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
      <SavedMeanwhile draft={writing} subject={`enrollment-profile:${before?.id}`} called={called} />
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
                <UsesAndVersions id={before.id} draft={draft} onTakeBack={set} />
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
