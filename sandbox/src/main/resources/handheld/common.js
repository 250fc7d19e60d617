export async function call(method, path, body) {
  const response = await fetch(path, {
    method,
    headers: body ? { 'Content-Type': 'application/json' } : {},
    body: body ? JSON.stringify(body) : undefined,
  });
  const text = await response.text();
  return text ? JSON.parse(text) : {};
}

export function h(tag, properties, ...children) {
  const node = Object.assign(document.createElement(tag), properties);
  node.append(...children.filter((c) => c !== null && c !== undefined));
  return node;
}

export function svgFor(kind) {
  const boxes = {
    phone: '<rect x="9" y="3" width="14" height="26" rx="3"/><path d="M14 25h4"/>',
    tablet: '<rect x="5" y="4" width="22" height="24" rx="3"/><path d="M14 25h4"/>',
    laptop: '<rect x="5" y="6" width="22" height="15" rx="2"/><path d="M2 25h28"/>',
  };
  const span = document.createElement('span');
  span.className = 'kind';
  span.innerHTML = `<svg viewBox="0 0 32 32" fill="none" stroke="currentColor" stroke-width="1.5">${boxes[kind]}</svg>`;
  return span;
}

/** The ground of a screen: a picture the organisation has handed out, if there is one. */
export const paper = (file) =>
  file ? `background: url(/content/${file.slice('sha256:'.length)}) center / cover` : '';

export const pages = [
  ['/', 'Devices'],
  ['/cable.html', 'Bench'],
  ['/mail.html', 'Mail'],
  ['/vendors.html', 'Vendor portal'],
  ['/store.html', 'App store'],
  ['/reader.html', 'Unmanaged phone'],
];

export function nav() {
  const here = location.pathname;
  document.querySelector('nav').replaceChildren(
    ...pages.map(([to, name]) =>
      h('a', { href: to, ariaCurrent: here === to || (to === '/' && here === '/index.html') ? 'page' : null }, name),
    ),
  );
}

/** Calls when something changed there. The browser has room for six such lines to a host: a page that is left lets go. */
export function listen(path, changed) {
  const source = new EventSource(path);
  source.addEventListener('changed', changed);
  addEventListener('pagehide', () => source.close());
}
