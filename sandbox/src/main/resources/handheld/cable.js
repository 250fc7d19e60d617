import { call, h, nav } from './common.js';

nav();
const link = document.getElementById('link');
const model = document.getElementById('model');
const rack = document.getElementById('rack');
const slots = document.getElementById('slots');
(await call('GET', '/api/models')).forEach((m) => model.append(h('option', { value: m.name }, `${m.maker} ${m.name}`)));

const words = {
  new: 'plugged in',
  joining: 'joining',
  waiting: 'waits for approval',
  refused: 'refused',
  home: 'in use',
  kiosk: 'in its kiosk',
  gate: 'getting ready',
  passcode: 'asks for a passcode',
};

async function plug(slot) {
  draw(await call('POST', '/api/cable/plug', { rack: Number(rack.value), slot, model: model.value }));
}

function draw(cable) {
  if (!cable.slots) {
    document.getElementById('told').textContent = cable.detail ?? '';
    return;
  }
  document.getElementById('told').textContent = cable.told;
  if (document.activeElement !== link) link.value = cable.link || link.value;
  const at = new Map(cable.slots.filter((s) => s.rack === Number(rack.value)).map((s) => [s.slot, s]));
  slots.replaceChildren(
    ...Array.from({ length: 16 }, (_, i) => {
      const s = at.get(i + 1);
      return h(
        'div',
        { className: s ? `slot ${s.screen}` : 'slot free' },
        h('b', {}, String(i + 1)),
        s ? h('a', { href: `/device.html#${s.device}` }, s.serial) : '',
        h('span', {}, s ? (words[s.screen] ?? s.screen) : 'free'),
        s
          ? h('button', { type: 'button', onclick: async () => draw(await call('POST', '/api/cable/unplug', { rack: s.rack, slot: s.slot })) }, 'Pull out')
          : h('button', { type: 'button', disabled: !cable.link, onclick: () => plug(i + 1) }, 'Plug in'),
      );
    }),
  );
}
const refresh = async () => draw(await call('GET', '/api/cable'));

document.getElementById('session').addEventListener('submit', async (e) => {
  e.preventDefault();
  draw(await call('POST', '/api/cable', { link: link.value }));
});
document.getElementById('all').addEventListener('submit', async (e) => {
  e.preventDefault();
  const taken = new Set((await call('GET', '/api/cable')).slots.filter((s) => s.rack === Number(rack.value)).map((s) => s.slot));
  for (let i = 1; i <= 16; i++) if (!taken.has(i)) await plug(i);
});
document.getElementById('out').addEventListener('click', async () => {
  for (const s of (await call('GET', '/api/cable')).slots) {
    await call('POST', '/api/cable/unplug', { rack: s.rack, slot: s.slot });
  }
  await refresh();
});
rack.addEventListener('change', refresh);
await refresh();
setInterval(refresh, 1500);
