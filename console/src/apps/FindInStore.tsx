import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { size } from '../ui/size';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';
import { LICENSED } from './licenses';

const COUNTRY = 'pinwright.store-country';

/** Where apps of a platform's store are searched by country, and added. */
export function FindInStore({
  onAdded,
  onClose,
}: {
  onAdded: (app: Schemas['AppDetail']) => void;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('apps', 'licenses');
  const gateways = useQuery({ queryKey: ['gateways'], queryFn: () => answer(api.GET('/gateways')) });
  const connected = gateways.data?.filter((g) => g.store.state !== 'missing') ?? [];
  const [chosen, setChosen] = useState<Schemas['PlatformKey']>();
  const platform = chosen ?? connected[0]?.platform;
  const countries = useQuery({
    queryKey: ['store', platform, 'countries'],
    enabled: platform !== undefined,
    queryFn: () =>
      answer(api.GET('/gateways/{platform}/store/countries', { params: { path: { platform: platform! } } })),
  });
  const [asked, setAsked] = useState(localStorage.getItem(COUNTRY) ?? '');
  const country = countries.data?.items.some((c) => c.code === asked)
    ? asked
    : (countries.data?.items[0]?.code ?? '');
  const [words, setWords] = useState('');
  const q = useDeferredValue(words);
  const found = useQuery({
    queryKey: ['store', platform, 'apps', country, q],
    enabled: platform !== undefined && country !== '',
    queryFn: () =>
      answer(
        api.GET('/gateways/{platform}/store/apps', {
          params: { path: { platform: platform! }, query: { country, q } },
        }),
      ),
  });
  const name = countries.data?.items.find((c) => c.code === country)?.name ?? country;
  return (
    <Sheet
      wide
      title="Find an app in a store"
      onClose={onClose}
      actions={<Button onClick={onClose}>Close</Button>}
    >
      {gateways.data && connected.length === 0 ? (
        <p className="text-sm">
          No store is connected yet. Do so under{' '}
          <Link className="text-brass underline" to="/house/gateways">
            Gateways
          </Link>
          , with the token of the vendor's portal.
        </p>
      ) : (
        <>
          <div className="grid grid-cols-[9rem_11rem_1fr] gap-3 max-md:grid-cols-1">
            <Labelled label="Store of">
              <select
                className="field"
                value={platform ?? ''}
                onChange={(e) => setChosen(e.target.value as Schemas['PlatformKey'])}
              >
                {connected.map((g) => (
                  <option key={g.platform} value={g.platform}>
                    {g.name}
                  </option>
                ))}
              </select>
            </Labelled>
            <Labelled label="Sold in">
              <select
                className="field"
                value={country}
                onChange={(e) => {
                  localStorage.setItem(COUNTRY, e.target.value);
                  setAsked(e.target.value);
                }}
              >
                {countries.data?.items.map((c) => (
                  <option key={c.code} value={c.code}>
                    {c.name}
                  </option>
                ))}
              </select>
            </Labelled>
            <Labelled label="Words">
              <input
                className="field"
                autoFocus
                placeholder="Name, publisher or what it is for"
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
            </Labelled>
          </div>
          <ul className="border-line max-h-96 min-h-40 overflow-y-auto border-t">
            {found.data?.items.map((a) => (
              <li key={a.id} className="border-line/60 flex items-center gap-4 border-b py-2.5 text-sm">
                <div className="min-w-0 flex-1">
                  <p>
                    <b>{a.name}</b> <span className="text-quiet">{a.version}</span>
                  </p>
                  <p className="text-quiet truncate text-xs">
                    {[a.publisher, a.category, a.size !== undefined && size(a.size)]
                      .filter(Boolean)
                      .join(', ')}
                  </p>
                  <p className="truncate text-xs">{a.summary}</p>
                </div>
                <div className="w-44 shrink-0 text-right text-xs">
                  {a.price ? (
                    <b className="block">{a.price}</b>
                  ) : (
                    <b className="text-rust block">not sold in {name}</b>
                  )}
                  <span className="text-quiet">{LICENSED[a.licensing]}</span>
                </div>
                <div className="w-24 shrink-0 text-right">
                  {a.appId ? (
                    <Link className="text-brass text-xs underline" to={`/apps/catalogue?card=${a.appId}`}>
                      is here
                    </Link>
                  ) : (
                    <Button
                      disabled={busy || !a.price}
                      onClick={() =>
                        void act(
                          () =>
                            answer(
                              api.POST('/gateways/{platform}/store/apps', {
                                params: { path: { platform: platform! } },
                                body: { id: a.id },
                              }),
                            ),
                          onAdded,
                        )
                      }
                    >
                      Add
                    </Button>
                  )}
                </div>
              </li>
            ))}
            {found.data?.items.length === 0 && (
              <li className="text-quiet py-6 text-center text-sm">The store has no app with these words.</li>
            )}
          </ul>
        </>
      )}
      <Trouble error={trouble ?? gateways.error ?? countries.error ?? found.error} />
    </Sheet>
  );
}
