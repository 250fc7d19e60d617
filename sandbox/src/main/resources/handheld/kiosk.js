import { h, paper } from './common.js';

/** Colours of the apps that come with a device, in their order. */
const COLOURS = ['#2d6270', '#8a4f3d', '#6c5a2e', '#5b4a78', '#2f5d50', '#3c4f76', '#7d6a1f', '#74544a', '#4d5b34', '#41607a', '#8a3f52', '#5a5f66'];

let order = [];
const colour = (id) => COLOURS[Math.max(0, order.indexOf(id)) % COLOURS.length];

/** What every app shows a little of, so that one can tell them apart. */
function inside(app) {
  return h(
    'div',
    { className: 'kiosk-app', id: 'kiosk-app' },
    h('i', { className: 'big' }, app.name.slice(0, 1)),
    h('h1', {}, app.name),
    h('p', {}, !app.there ? 'is not on this device' : app.opens ? `The page at ${app.opens}.` : ''),
  );
}

function tile(app, open) {
  const one = h(
    app.there ? 'button' : 'span',
    { type: 'button', ariaLabel: app.name, className: app.there ? 'app' : 'app off', id: `kiosk-${app.id}`, onclick: app.there ? () => open(app.id) : null },
    h('i', {}, app.name.slice(0, 1)),
    app.name,
  );
  one.firstChild.style.background = colour(app.id);
  if (!app.there) one.append(h('small', {}, 'missing'));
  return one;
}

/** The kiosk: its home screen or the app that is open, and the way out for those who have a code. */
export function kioskScreen(d, act) {
  const k = d.kiosk;
  order = d.apps.map((a) => a.id);
  const off = new Set(k.off);
  const body = k.open
    ? inside(k.open)
    : k.one
      ? h('div', { className: 'kiosk-app gone', id: 'kiosk-gone' }, h('h1', {}, 'Back soon'), h('p', {}, `${k.missing[0]?.name ?? 'The app'} is not on this device. Your organisation has been told.`))
      : h(
          'div',
          { className: 'kiosk-grid', style: `grid-template-columns: repeat(${k.columns}, 1fr)` },
          ...k.rows.flat().map((app) => (app ? tile(app, act.open) : h('span', {}))),
        );
  if (k.open) body.querySelector('.big').style.background = colour(k.open.id);
  return h(
    'div',
    { style: paper(d.noticed['wallpaper-picture']), className: `kiosk paper-${d.noticed.wallpaper || 'plain'} ${off.has('touch') ? 'untouched' : ''}`, id: 'kiosk' },
    !k.open && k.title ? h('h1', { className: 'kiosk-title' }, k.title) : '',
    body,
    k.dock.length && !k.open ? h('div', { className: 'dock' }, ...k.dock.map((app) => tile(app, act.open))) : '',
    k.open && !k.one && !off.has('home-button') ? h('button', { type: 'button', className: 'kiosk-home', id: 'kiosk-home', onclick: () => act.open('') }, 'Home') : '',
    k.exitCode
      ? h('button', { type: 'button', className: 'corner', id: 'kiosk-corner', title: 'For staff', ariaLabel: 'For staff', onclick: act.staff }, '⋯')
      : '',
  );
}

/** Where staff type the code that leaves the kiosk. */
export function exitScreen(act) {
  const field = h('input', { id: 'exit-code', inputMode: 'numeric', maxLength: 7, placeholder: 'Code from the device’s page', ariaLabel: 'Exit code', autocomplete: 'off' });
  const complaint = h('p', { className: 'complaint', id: 'exit-complaint', role: 'alert' });
  return h(
    'form',
    {
      className: 'keypad',
      onsubmit: async (e) => {
        e.preventDefault();
        complaint.textContent = await act.leave(field.value);
      },
    },
    h('h1', {}, 'Leave the kiosk'),
    h('p', {}, 'IT reads you six digits from this device’s page. No network is needed.'),
    field,
    complaint,
    h('button', { className: 'primary', id: 'exit-leave' }, 'Leave'),
    h('button', { type: 'button', onclick: act.back }, 'Back'),
  );
}
