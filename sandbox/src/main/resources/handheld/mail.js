import { call, h, nav } from './common.js';

nav();
const main = document.getElementById('letters');
let shown = '';

function letter(l) {
  const text = h('p', { className: 'text' });
  // links can be followed: to a device they are typed in anyway
  l.text.split(/(https:\/\/\S+)/).forEach((part) =>
    text.append(part.startsWith('https://') ? h('code', {}, part) : part),
  );
  return h(
    'article',
    { className: 'letter' },
    h('h2', {}, l.subject),
    h('p', { className: 'advice' }, `to ${l.to}, from ${l.from}`),
    text,
    ...l.attachments.map((a) =>
      a.type === 'image/png'
        ? h('img', { src: `data:${a.type};base64,${a.base64}`, alt: a.name, width: 180 })
        : h('a', { href: `data:${a.type};base64,${a.base64}`, download: a.name }, a.name),
    ),
  );
}

async function draw() {
  const letters = await call('GET', '/api/mail');
  const key = String(letters.length) + location.hash;
  if (key === shown) return;
  shown = key;
  const open = letters[letters.length - Number(location.hash.slice(1) || letters.length)];
  main.replaceChildren(
    h(
      'ul',
      { className: 'letters' },
      ...letters.map((l, i) =>
        h('li', {}, h('a', { href: `#${letters.length - i}`, ariaCurrent: l === open ? 'true' : null },
          h('b', {}, l.to), h('span', {}, l.subject))),
      ),
      ...(letters.length === 0 ? [h('li', { className: 'advice' }, 'No letter has come yet.')] : []),
    ),
    open ? letter(open) : '',
  );
}
await draw();
addEventListener('hashchange', draw);
setInterval(draw, 2000);
