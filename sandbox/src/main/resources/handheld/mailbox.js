import { h } from './common.js';

/** The mail app: the mailboxes the organisation has set up, each as its holder finds it. */
export function mailScreen(d, close) {
  return h(
    'div',
    { className: 'browser mailboxes', id: 'mailboxes' },
    h('form', {}, h('h1', {}, 'Mail'), h('button', { type: 'button', onclick: close }, 'Close')),
    ...d.provided.mailboxes.map((m) =>
      h(
        'section',
        {},
        h('h2', {}, m.address),
        m.asksPassword
          ? h('p', { className: 'asks' }, 'It asks for the password before it shows mail.')
          : h('p', {}, m.days ? `Mail of the last ${m.days} days.` : 'All mail.'),
        h('p', { className: 'advice' }, `Comes from ${m.in}${m.out ? `, goes out by ${m.out}` : ''}`),
        m.withoutAttachments ? h('p', { className: 'advice' }, 'Attachments are not opened here.') : null,
        m.signature ? h('p', { className: 'signature' }, m.signature) : null,
      ),
    ),
  );
}
