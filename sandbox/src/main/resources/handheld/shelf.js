import { call, h, nav, svgFor } from './common.js';

nav();

const models = await call('GET', '/api/models');
const select = document.getElementById('model');
models.forEach((m) => select.append(h('option', { value: m.name }, `${m.maker} ${m.name}`)));
document.getElementById('make').addEventListener('submit', async (e) => {
  e.preventDefault();
  const made = await call('POST', '/api/devices', { model: select.value, boots: true });
  location.href = `/device.html#${made.id}`;
});

const words = {
  new: 'new, not joined',
  asking: 'looking for its organisation',
  'first-run': 'first-run screens',
  gate: 'at the ready gate',
  offered: 'reading an invitation',
  joining: 'joining',
  waiting: 'waiting for approval',
  refused: 'refused',
  removed: 'no longer managed',
  home: 'in use',
  kiosk: 'in its kiosk',
  passcode: 'asks for a passcode',
  locked: 'locked',
  restarting: 'restarting',
};

async function draw() {
  const devices = await call('GET', '/api/devices');
  document.getElementById('shelf').replaceChildren(
    ...devices.map((d) =>
      h(
        'a',
        { className: `shelved ${d.screen}`, href: `/device.html#${d.id}` },
        svgFor(d.kind),
        h('span', {}, h('b', {}, `${d.maker} ${d.model}`), h('code', {}, d.serial)),
        h('em', {}, words[d.screen] + (d.managed && !d.online ? ', offline' : '')),
      ),
    ),
  );
}
await draw();
setInterval(draw, 2000);
