import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, everyPage, type Schemas } from '../api/client';
import { useQuery } from '@tanstack/react-query';
import { DropFile } from '../ui/DropFile';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';

const SAID: Record<Schemas['RedemptionFault']['judgement'], string> = {
  good: 'good',
  spent: 'was redeemed before',
  unknown: 'the store does not know it',
  'other-app': 'is of another app',
  twice: 'stands in the sheet before',
};

/** Where codes of the older kind are looked at, line by line, and then made into licenses. */
export function RedeemCodes({ onClose }: { onClose: () => void }) {
  const { act, trouble, busy } = useAct('licenses', 'apps');
  const apps = useQuery({
    queryKey: ['apps', 'store'],
    queryFn: () =>
      everyPage((after) =>
        answer(api.GET('/apps', { params: { query: { from: 'store', after, limit: 200 } } })),
      ),
  });
  const [appId, setApp] = useState('');
  const [place, setPlace] = useState('');
  const [text, setText] = useState('');
  const [file, setFile] = useState<File>();
  const [looked, setLooked] = useState<Schemas['Redeemed']>();
  const forget = () => setLooked(undefined);
  const send = (save: boolean) =>
    void act(
      () =>
        answer(api.POST('/license-pools/codes', { body: { appId, place: place.trim(), sheet: text, save } })),
      setLooked,
    );
  return (
    <Sheet
      title="Redeem codes"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>{looked?.saved ? 'Close' : 'Cancel'}</Button>
          {!looked?.saved && (
            <Button
              weight="main"
              disabled={busy || !appId || !place.trim() || !text.trim() || looked?.good === 0}
              onClick={() => send(looked !== undefined)}
            >
              {looked ? `Redeem ${counted(looked.good, 'code')}` : 'Look at the codes'}
            </Button>
          )}
        </>
      }
    >
      <p className="text-sm">
        Codes from a sheet, one in the first column of each line. Each becomes one license; nothing is
        redeemed before you have seen what they are worth.
      </p>
      <Labelled label="App">
        <select
          className="field"
          value={appId}
          onChange={(e) => {
            setApp(e.target.value);
            forget();
          }}
        >
          <option value="">Choose one</option>
          {apps.data?.items.map((a) => (
            <option key={a.id} value={a.id}>
              {a.name}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="For the place" hint="As the vendor's portal calls it.">
        <input
          className="field"
          maxLength={80}
          value={place}
          onChange={(e) => {
            setPlace(e.target.value);
            forget();
          }}
        />
      </Labelled>
      <DropFile
        thing="sheet"
        file={file}
        onTake={(taken) => {
          setFile(taken);
          forget();
          void taken?.text().then(setText);
        }}
      />
      <Labelled label="Codes">
        <textarea
          className="field h-28 font-mono text-xs"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            forget();
          }}
        />
      </Labelled>
      {looked && (
        <section className="text-sm" aria-live="polite">
          <p className={looked.saved ? 'border-moss border-l-2 pl-3' : 'border-brass border-l-2 pl-3'}>
            <b>
              {counted(looked.good, 'code')} {looked.saved ? 'redeemed' : 'can be redeemed'}
            </b>
            {looked.faults.length > 0 && `, ${looked.faults.length} not`}.
          </p>
          <ul className="mt-2 max-h-40 overflow-y-auto">
            {looked.faults.map((f) => (
              <li key={f.line} className="border-line/60 flex gap-3 border-b py-1">
                <span className="text-quiet w-16">line {f.line}</span>
                <span className="font-mono text-xs">…{f.ends}</span>
                <span className="text-rust">{SAID[f.judgement]}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}
