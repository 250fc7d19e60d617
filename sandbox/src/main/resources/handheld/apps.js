import { h } from './common.js';

const COLOURS = ['#2d6270', '#8a4f3d', '#6c5a2e', '#5b4a78', '#2f5d50', '#3c4f76', '#7d6a1f', '#74544a', '#4d5b34', '#41607a', '#8a3f52'];

/** A colour of its own for every app, the same wherever it is shown. */
const colour = (id) => COLOURS[[...id].reduce((sum, c) => (sum * 31 + c.charCodeAt(0)) % 9973, 7) % COLOURS.length];

function mark(id, name) {
  const i = h('i', {}, name.slice(0, 1));
  i.style.background = colour(id);
  return i;
}

/** The apps the organisation put on the device, and those on their way. */
export function appTiles(d, act) {
  const coming = new Map(d.coming.map((c) => [c.id, c]));
  const there = d.installed.map((a) => {
    const c = coming.get(a.id);
    const open = a.usable && !c;
    return h(
      open ? 'button' : 'span',
      { type: 'button', className: open ? 'app' : 'app off', id: `app-${a.id}`, onclick: open ? () => act.open(a.id) : null },
      mark(a.id, a.name),
      a.name,
      c ? progress(c) : a.usable ? '' : h('small', {}, 'blocked'),
    );
  });
  const fresh = d.coming
    .filter((c) => !d.installed.some((a) => a.id === c.id))
    .map((c) => h('span', { className: 'app off', id: `coming-${c.id}` }, mark(c.id, c.name), c.name, progress(c)));
  return [...there, ...fresh];
}

function progress(c) {
  return h('small', {}, c.waits ?? (c.percent ? `${c.percent} %` : 'on its way'));
}

/** What an app shows a little of: its version, and what it was told. */
export function openApp(app, written, close) {
  const told = app.config ? Object.entries(JSON.parse(app.config)) : [];
  const big = mark(app.id, app.name);
  big.className = 'big';
  return h(
    'div',
    { className: 'opened-app', id: 'opened-app' },
    big,
    h('h1', {}, app.name),
    h('p', {}, `Version ${app.version}${app.managed ? ', from your organisation' : ''}`),
    told.length
      ? h('dl', { className: 'settings', id: 'app-told' }, ...told.flatMap(([k, v]) => [h('dt', {}, k), h('dd', {}, typeof v === 'object' ? JSON.stringify(v) : String(v))]))
      : null,
    written ? h('p', { className: 'written', id: 'written' }, written) : null,
    h('button', { type: 'button', id: 'close-app', onclick: close }, 'Close'),
  );
}

/** What the holder may pick, by category, with a search. */
export function shelfScreen(d, words, act) {
  const all = Object.values(d.shelf).map((text) => JSON.parse(text));
  const found = all.filter((a) => `${a.name} ${a.summary} ${a.category}`.toLowerCase().includes(words.toLowerCase()));
  const categories = [...new Set(found.map((a) => a.category || 'other'))].sort();
  const field = h('input', { id: 'shelf-words', type: 'search', ariaLabel: 'Search the shelf', placeholder: 'Search the shelf', value: words, oninput: (e) => act.search(e.target.value) });
  return h(
    'div',
    { className: 'shelf-screen', id: 'shelf-screen' },
    h('header', {}, h('h1', {}, 'Shelf'), h('button', { type: 'button', id: 'close-shelf', onclick: act.close }, 'Close')),
    field,
    ...categories.flatMap((category) => [
      h('h3', {}, category),
      ...found
        .filter((a) => (a.category || 'other') === category)
        .map((a) => offer(d, a, act)),
    ]),
    found.length === 0 ? h('p', {}, all.length ? 'Nothing on the shelf is like that.' : 'There is nothing on the shelf.') : null,
  );
}

function offer(d, a, act) {
  const there = d.installed.find((i) => i.id === a.id);
  const coming = d.coming.find((c) => c.id === a.id);
  const said = there?.version === a.version ? 'Installed' : coming ? (coming.waits ?? `${coming.percent} %`) : d.wishes.includes(a.id) ? 'Asked for' : null;
  return h(
    'div',
    { className: 'offered', id: `shelf-${a.id}` },
    mark(a.id, a.name),
    h('span', {}, h('b', {}, a.name), h('small', {}, a.summary || a.publisher || `version ${a.version}`)),
    said
      ? h('em', {}, said)
      : h('button', { type: 'button', className: 'primary', onclick: () => act.pick(a.id) }, there ? 'Update' : 'Get it'),
  );
}
