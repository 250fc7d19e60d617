import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useConfirmation } from '../rules/confirmation';
import { Effects } from '../rules/RehearsalSheet';
import { WaveFields, wavesFault, type WavesSpec } from '../rules/waves';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import type { AppDetail, AppVersion } from './apps';

/** Releases a version: to whom, what that does, and perhaps in waves. */
export function ReleaseSheet({
  detail,
  version,
  onClose,
}: {
  detail: AppDetail;
  version: AppVersion;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('apps', 'profiles', 'changes', 'devices');
  const [channel, setChannel] = useState<Schemas['ReleaseChannel']>('all');
  const [waves, setWaves] = useState<WavesSpec>();
  const path = { id: detail.app.id };
  const { code } = version;
  const rehearsal = useQuery({
    queryKey: ['apps', 'rehearsal', path.id, code, channel, detail.version],
    gcTime: 0,
    retry: false,
    queryFn: () =>
      answer(api.POST('/apps/{id}/release-rehearsal', { params: { path }, body: { code, channel } })),
  });
  const r = rehearsal.data;
  const confirmation = useConfirmation(r, 'release it');
  const back = detail.forAll && detail.forAll.code > code;
  return (
    <Sheet
      wide
      title={`Release ${detail.app.name} ${version.version}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !confirmation.ready || (waves && wavesFault(waves)) !== undefined}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/apps/{id}/releases', {
                      params: { path, header: onVersion(detail) },
                      body: { code, channel, waves, ...confirmation.given },
                    }),
                  ),
                onClose,
              )
            }
          >
            {waves ? 'Begin the first wave of' : 'Release to'} {counted(r?.changing ?? 0, 'device')}
          </Button>
        </>
      }
    >
      <Labelled label="For whom">
        <select
          className="field w-72!"
          value={channel}
          onChange={(e) => setChannel(e.target.value as Schemas['ReleaseChannel'])}
        >
          <option value="all">all that follow its releases</option>
          <option value="early">those that follow early releases</option>
        </select>
      </Labelled>
      {back && (
        <p className="border-amber border-l-2 pl-3 text-sm">
          {detail.forAll!.version} is released now, which is later: this goes back. A device may refuse that.
        </p>
      )}
      <Trouble error={rehearsal.error} />
      {r && r.devices === 0 && (
        <p className="text-quiet text-sm">
          No published assignment follows it, so no device changes. Assignments made from now on have this
          version.
        </p>
      )}
      {r && r.devices > 0 && <Effects rehearsal={r} />}
      {r && r.changing > 1 && <WaveFields value={waves} onChange={setWaves} />}
      {confirmation.fields}
      <Trouble error={trouble} />
    </Sheet>
  );
}
