import { call, h, nav } from './common.js';

nav();
const main = document.getElementById('store');
const vendors = await call('GET', '/api/vendors');
const query = new URLSearchParams(location.search);
let platform = query.get('platform') ?? vendors[0].platform;
let country = query.get('country') ?? 'XV';
let account = 'it@vellmar.example';
let words = '';

const kinds = { FREE: 'no license needed', BY_DEVICE: 'one license per device', BY_HOLDER: 'one license per holder' };

function buying(app, redraw) {
  const fault = h('p', { className: 'fault', role: 'alert' });
  const number = h('input', { type: 'number', min: 1, value: 10, ariaLabel: `How many licenses of ${app.name}` });
  const codes = h('textarea', { readOnly: true, hidden: true, rows: 4, ariaLabel: `Codes of ${app.name}` });
  const place = h('input', { placeholder: 'place', ariaLabel: `Place for ${app.name}` });
  return h(
    'form',
    {
      className: 'buy',
      onsubmit: async (e) => {
        e.preventDefault();
        const answer = await call('POST', `/api/vendors/${platform}/store/licenses`, {
          account,
          app: app.id,
          place: place.value,
          country,
          number: Number(number.value),
        });
        if (answer.detail) {
          fault.textContent = answer.detail;
        } else {
          await redraw();
        }
      },
    },
    number,
    place,
    h('button', { className: 'primary' }, 'Buy'),
    h(
      'button',
      {
        type: 'button',
        onclick: async () => {
          const answer = await call('POST', `/api/vendors/${platform}/store/codes`, {
            account,
            app: app.id,
            country,
            number: Number(number.value),
          });
          if (answer.detail) {
            fault.textContent = answer.detail;
          } else {
            codes.hidden = false;
            codes.value = answer.codes.join('\n');
          }
        },
      },
      'As codes',
    ),
    codes,
    fault,
  );
}

function offer(app, stock, redraw) {
  const sold = app.prices[country];
  const version = app.versions[0];
  return h(
    'article',
    { className: 'offer-line' },
    app.icon ? h('img', { src: `data:image/png;base64,${app.icon}`, alt: '' }) : h('span', { className: 'no-icon' }),
    h(
      'div',
      {},
      h('h3', {}, app.name),
      h('p', {}, `${app.publisher} · ${app.category} · ${version.version}`),
      h('p', { className: 'quiet' }, app.summary),
      ...stock
        .filter((s) => s.app === app.id && s.account === account)
        .map((s) => h('p', { className: 'owned' }, `${s.place}: ${s.names.length} of ${s.owned} in use`)),
    ),
    h(
      'div',
      { className: 'price' },
      h('b', {}, sold ?? 'not sold here'),
      h('span', { className: 'quiet' }, kinds[app.licensing]),
      sold && app.licensing !== 'FREE' ? buying(app, redraw) : null,
      Object.keys(app.prices).length > 0
        ? h(
            'button',
            {
              onclick: async () => {
                await call('DELETE', `/api/vendors/${platform}/store/apps/${app.id}`);
                await redraw();
              },
            },
            'Withdraw from sale',
          )
        : null,
    ),
  );
}

async function draw() {
  const [countries, offers, stock] = await Promise.all([
    call('GET', '/api/store-countries'),
    call('GET', `/api/vendors/${platform}/store/apps`),
    call('GET', `/api/vendors/${platform}/store/licenses`),
  ]);
  const asked = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = offers.filter((o) => asked.every((w) => `${o.name} ${o.publisher} ${o.summary}`.toLowerCase().includes(w)));
  main.replaceChildren(
    h(
      'form',
      { className: 'store-bar', onsubmit: (e) => e.preventDefault() },
      h(
        'label',
        {},
        'Store of',
        h(
          'select',
          {
            onchange: (e) => {
              platform = e.target.value;
              draw();
            },
          },
          ...vendors.map((v) => h('option', { selected: v.platform === platform }, v.platform)),
        ),
      ),
      h(
        'label',
        {},
        'Country',
        h(
          'select',
          {
            onchange: (e) => {
              country = e.target.value;
              draw();
            },
          },
          ...Object.entries(countries).map(([code, name]) => h('option', { value: code, selected: code === country }, name)),
        ),
      ),
      h(
        'label',
        {},
        'Signed in as',
        h('input', {
          value: account,
          onchange: (e) => {
            account = e.target.value || account;
            draw();
          },
        }),
      ),
      h(
        'label',
        {},
        'Search',
        h('input', {
          value: words,
          onchange: (e) => {
            words = e.target.value;
            draw();
          },
        }),
      ),
      h(
        'label',
        {},
        'For publishers: a new version',
        h('input', {
          type: 'file',
          onchange: async (e) => {
            const [file] = e.target.files;
            if (file) {
              await fetch(`/api/vendors/${platform}/store/apps`, { method: 'POST', body: file });
              await draw();
            }
          },
        }),
      ),
    ),
    ...(found.length ? found.map((o) => offer(o, stock, draw)) : [h('p', {}, 'The store has no such app.')]),
  );
}
await draw();
