import { call, h, nav } from './common.js';

nav();
const main = document.getElementById('vendors');
const models = await call('GET', '/api/models');
const vendors = await call('GET', '/api/vendors');
let account = 'it@vellmar.example';

function field(label, value, rows) {
  return h(
    'label',
    {},
    label,
    rows
      ? h('textarea', { readOnly: true, rows, value, onclick: (e) => e.target.select() })
      : h('input', { readOnly: true, value, onclick: (e) => e.target.select() }),
  );
}

async function vendor(v) {
  const tokens = await call('GET', `/api/vendors/${v.platform}/accounts/${account}`);
  const sold = await call('GET', `/api/vendors/${v.platform}/devices`);
  const request = h('textarea', {
    rows: 4,
    placeholder: '-----BEGIN CERTIFICATE REQUEST-----',
    ariaLabel: 'Signing request',
  });
  const days = h('input', { type: 'number', min: 1, value: 365, ariaLabel: 'Days it holds' });
  const signed = h('textarea', { rows: 4, readOnly: true, ariaLabel: 'Signed credential', onclick: (e) => e.target.select() });
  const fault = h('p', { className: 'fault', role: 'alert' });
  const mine = models.filter((m) => m.platform === v.platform);
  const model = h('select', { ariaLabel: 'Model' }, ...mine.map((m) => h('option', {}, m.name)));
  const serials = h('input', { placeholder: 'serial numbers, separated by spaces', ariaLabel: 'Serial numbers' });
  return h(
    'section',
    { className: 'vendor' },
    h('h2', {}, `Vendor of ${v.platform}`),
    h(
      'div',
      { className: 'columns' },
      h(
        'div',
        {},
        field('Address of the services', v.services),
        field('Certificate of the makers', v.root, 4),
        field('Registrar token', tokens.registrarToken),
        field('Store token', tokens.storeToken),
      ),
      h(
        'form',
        {
          onsubmit: async (e) => {
            e.preventDefault();
            const answer = await call('POST', `/api/vendors/${v.platform}/credentials`, {
              account,
              request: request.value,
              days: Number(days.value),
            });
            signed.value = answer.certificate ?? '';
            fault.textContent = answer.detail ?? '';
          },
        },
        h('label', {}, 'Push signing request', request),
        h('label', {}, 'Days it holds', days),
        h('button', { className: 'primary' }, 'Sign'),
        h('label', {}, 'Signed credential', signed),
        fault,
      ),
      h(
        'form',
        {
          onsubmit: async (e) => {
            e.preventDefault();
            await call('POST', `/api/vendors/${v.platform}/devices`, {
              account,
              order: 'by hand',
              devices: serials.value
                .split(/\s+/)
                .filter(Boolean)
                .map((serial) => ({ serial, model: model.value, kind: mine.find((m) => m.name === model.value).kind })),
            });
            await draw();
          },
        },
        h('h3', {}, `Registered by resellers (${sold.length})`),
        h(
          'ul',
          { className: 'sold' },
          ...sold.map((s) =>
            h('li', {}, h('code', {}, s.serial), ` ${s.model}, ${s.order}`, h('em', {}, s.assigned ? 'assigned' : '')),
          ),
        ),
        h('label', {}, 'Register more', serials),
        model,
        h('button', {}, 'Register'),
      ),
    ),
  );
}

async function draw() {
  main.replaceChildren(
    h(
      'label',
      { className: 'account' },
      'Signed in to the portal as',
      h('input', {
        value: account,
        onchange: (e) => {
          account = e.target.value || account;
          draw();
        },
      }),
    ),
    ...(await Promise.all(vendors.map(vendor))),
  );
}
await draw();
