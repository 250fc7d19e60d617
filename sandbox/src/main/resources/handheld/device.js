import { call, h, listen, nav, paper } from './common.js';
import { appTiles, openApp, shelfScreen } from './apps.js';
import { exitScreen, kioskScreen } from './kiosk.js';
import { mailScreen } from './mailbox.js';

nav();

const id = location.hash.slice(1);
const base = `/api/devices/${id}`;
const screen = document.getElementById('screen');
let shown = '';
let typed = '';
let complaint = [];
let choosing = false;
let page; // what the browser shows; undefined while it is not open
let faultsOpen = false;
let appsOpen = false;
let mailOpen = false;
let shelfWords; // what is looked for on the shelf; undefined while it is not open
let staff = false; // whether the code that leaves the kiosk is being typed

const post = async (what, body) => {
  const answer = await call('POST', `${base}/${what}`, body ?? {});
  await refresh();
  return answer;
};
const button = (label, act, kind = '') =>
  h('button', { type: 'button', className: kind, onclick: act }, label);

function list(title, items, className) {
  return h(
    'section',
    { className },
    h('h3', {}, title),
    h('ul', {}, ...items.map((i) => h('li', {}, i))),
  );
}

const screens = {
  new: () => {
    const field = h('input', {
      id: 'link',
      placeholder: 'https://…/join/…',
      autocomplete: 'off',
      ariaLabel: 'Join link',
    });
    return h(
      'form',
      {
        className: 'welcome',
        onsubmit: (e) => {
          e.preventDefault();
          post('link', { link: field.value });
        },
      },
      h('h1', {}, 'Hello.'),
      h('p', {}, 'This device is new. Scan the code you were given, type its link here, or open a join file.'),
      field,
      h('input', {
        type: 'file',
        id: 'join-file',
        accept: '.json,application/json',
        ariaLabel: 'Join file',
        onchange: async (e) => {
          const text = (await e.target.files[0]?.text()) ?? '';
          try {
            post('link', { link: String(JSON.parse(text).link) });
          } catch {
            post('link', { link: 'this is no join file' });
          }
        },
      }),
      h('button', { className: 'primary', id: 'go' }, 'Go on'),
    );
  },
  asking: (d) => busy('Hello.', d.reason),
  offered: (d) => {
    const o = d.offer;
    const word = { passphrase: 'Passphrase', directory: 'Password' }[o.signIn];
    const login =
      o.signIn === 'directory'
        ? h('input', { id: 'login', placeholder: 'Staff login', ariaLabel: 'Staff login', autocomplete: 'off' })
        : null;
    const secret = word
      ? h('input', { id: 'secret', type: 'password', placeholder: word, ariaLabel: word })
      : null;
    return h(
      'div',
      { className: 'offer' },
      h('h1', {}, o.organisation),
      h(
        'p',
        {},
        o.profile.ownership === 'personal'
          ? `wants to manage the work side of this device (${o.profile.name}).`
          : `wants to manage this device (${o.profile.name}).`,
      ),
      h(
        'div',
        { className: 'two' },
        list('It can see', o.visible, 'sees'),
        list('It never sees', o.never, 'never'),
      ),
      h(
        'details',
        {},
        h('summary', {}, 'What it can do'),
        h('p', {}, `It can: ${o.may.join(', ').toLowerCase()}.`),
        o.mayNot.length ? h('p', {}, `It cannot: ${o.mayNot.join(', ').toLowerCase()}.`) : null,
      ),
      o.terms
        ? h(
            'section',
            { className: 'terms' },
            h('h3', {}, `${o.terms.title} (version ${o.terms.version})`),
            h('p', {}, o.terms.text),
          )
        : null,
      login,
      secret,
      h(
        'div',
        { className: 'choice' },
        button('Decline', () => post('decline')),
        h(
          'button',
          {
            type: 'button',
            className: 'primary',
            id: 'accept',
            onclick: () => post('accept', { login: login?.value, secret: secret?.value }),
          },
          o.terms ? 'Accept and join' : 'Join',
        ),
      ),
    );
  },
  joining: (d) => busy('Joining', d.reason),
  waiting: (d) => busy('Nearly there', d.reason),
  refused: (d) =>
    h(
      'div',
      { className: 'refused' },
      h('h1', {}, 'This did not work'),
      h('p', { id: 'reason' }, d.reason),
      h('p', { className: 'advice' }, advice[d.problem] ?? 'Ask whoever gave you the code.'),
      button('Start again', () => post('decline'), 'primary'),
    ),
  removed: (d) =>
    h(
      'div',
      { className: 'refused' },
      h('h1', {}, 'No longer managed'),
      h('p', {}, d.reason),
      button('Erase and start again', () => post('reset'), 'primary'),
    ),
  restarting: () => busy('Restarting', ''),
  off: () => h('div', { className: 'switched-off' }, button('Switch on', () => post('switch-on'))),
  asleep: (d) =>
    h('div', { className: 'switched-off asleep' },
      d.provided.lidClosed
        ? button('Open the lid', () => post('lid', { on: false }))
        : button('Wake it', () => post('wake'))),
  'first-run': (d) =>
    h(
      'div',
      { className: 'welcome' },
      h('p', { className: 'advice' }, `${d.firstRun.left} left`),
      h('h1', {}, d.firstRun.title),
      h('p', {}, d.firstRun.text),
      button('Go on', () => post('next-screen'), 'primary'),
    ),
  gate: (d) =>
    h(
      'div',
      { className: 'gate' },
      h('h1', {}, d.updating ? 'Updating the system' : 'Getting ready'),
      h('p', {}, 'This device can be used when all of this is done.'),
      h('progress', {
        max: Math.max(1, d.gate.length),
        value: d.gate.filter((g) => g.done).length,
        ariaLabel: 'How much is done',
      }),
      h('ul', {}, ...d.gate.map((g) =>
          h('li', { className: g.done ? 'done' : 'open' }, g.title, g.why ? h('small', {}, g.why) : ''),
        )),
    ),
  locked: (d) =>
    keypad(
      d,
      h(
        'div',
        { className: 'lock', style: paper(d.noticed['lock-picture']) },
        h('div', { className: 'clock' }, new Date().toTimeString().slice(0, 5)),
        h('p', { id: 'lock-text' }, d.lockText || 'Locked'),
        d.lockPhone ? h('p', { className: 'phone' }, `Call ${d.lockPhone}`) : null,
        d.biometricsOff ? h('p', { className: 'advice' }, 'Fingerprint and face open nothing until the passcode is typed.') : null,
        d.simLocked ? h('p', { className: 'advice' }, 'The SIM asks for its number.') : null,
      ),
      d.passcodeSet ? 'Passcode' : 'No passcode is set',
      'Unlock',
      async () => {
        const a = await post('unlock', { passcode: typed });
        complaint = a.unlocked ? [] : [a.erased ? 'Too many wrong passcodes: this device erases itself.' : 'That is not the passcode.'];
      },
    ),
  resting: (d) =>
    h(
      'div',
      { className: 'lock' },
      h('div', { className: 'clock' }, new Date().toTimeString().slice(0, 5)),
      h('p', { id: 'resting' }, d.noticed['hours-text'] || 'This device rests now.'),
      h('p', { className: 'advice' }, `It can be used ${d.noticed.hours}.`),
    ),
  'sign-in': (d) => {
    const said = h('p', { className: 'complaint', role: 'alert', id: 'refused' });
    const go = async (login) => {
      const a = await post('sign-in', { login });
      said.textContent = a.objection;
    };
    const field = h('input', { id: 'login', placeholder: 'Login', ariaLabel: 'Login', autocomplete: 'off' });
    return h(
      'form',
      {
        className: 'keypad signin',
        onsubmit: (e) => {
          e.preventDefault();
          go(field.value);
        },
      },
      h('div', { className: 'clock' }, new Date().toTimeString().slice(0, 5)),
      d.signIn.banner ? h('p', { id: 'banner' }, d.signIn.banner) : null,
      ...(d.signIn.names.length
        ? d.signIn.names.map((n) => button(n, () => go(n)))
        : [field, h('button', { className: 'primary', id: 'sign-in' }, 'Sign in')]),
      d.signIn.guests ? button('Sign in as a guest', () => go('')) : null,
      said,
    );
  },
  browser: (d) => browser(d),
  passcode: (d) =>
    keypad(
      d,
      h(
        'div',
        { className: 'demand' },
        h('h1', {}, d.passcodeSet ? 'Choose a new passcode' : 'Choose a passcode'),
        h('p', { id: 'demand' }, `Your organisation asks for: ${d.passcodeDemand}.`),
      ),
      'New passcode',
      'Set passcode',
      async () => {
        const a = await post('passcode', { passcode: typed });
        complaint = a.objections;
        if (complaint.length === 0) choosing = false;
      },
    ),
  kiosk: (d) =>
    kioskScreen(d, {
      open: (app) => post('app', { app }),
      staff: () => {
        staff = true;
        draw(d, true);
      },
    }),
  exit: (d) =>
    exitScreen({
      leave: async (code) => {
        const { objection } = await call('POST', `${base}/exit-code`, { code });
        if (!objection) {
          staff = false;
          await refresh();
        }
        return objection;
      },
      back: () => {
        staff = false;
        draw(d, true);
      },
    }),
  shelf: (d) =>
    shelfScreen(d, shelfWords, {
      search: (words) => {
        shelfWords = words;
        draw(last, true);
        const field = document.getElementById('shelf-words');
        field.focus();
        field.setSelectionRange(words.length, words.length);
      },
      pick: (app) => post('pick', { app }),
      close: () => {
        shelfWords = undefined;
        draw(last, true);
      },
    }),
  mail: (d) =>
    mailScreen(d, () => {
      mailOpen = false;
      draw(last, true);
    }),
  app: (d) =>
    openApp(d.installed.find((a) => a.id === d.opened), d.written, () => post('app', { app: '' })),
  home: (d) =>
    h(
      'div',
      {
        style: paper(d.noticed['wallpaper-picture']),
        className: `home paper-${d.noticed.wallpaper || 'plain'} text-${d.noticed['text-size'] || 'normal'} ground-${d.noticed.ground || 'holder'}`,
      },
      h('div', { className: 'clock' }, new Date().toTimeString().slice(0, 5)),
      d.kioskBack ? h('p', { className: 'signed', id: 'kiosk-back' }, `The kiosk comes back at ${moment(d.kioskBack)}`) : null,
      orderNote(d),
      d.updating
        ? h('p', { className: 'signed', id: 'updating' }, 'The system is being updated.')
        : null,
      d.update
        ? h(
            'div',
            { className: 'nudge', id: 'update' },
            h('p', {}, `Version ${d.update.version} of the system is there. ${d.update.words}`),
            button('Install now', () => post('update')),
          )
        : null,
      d.noticed.trail === 'true'
        ? h('p', { className: 'signed', id: 'trail' }, 'This device keeps a trail: where it is, and when. Whoever manages it can see that.')
        : null,
      d.passcodeUntil
        ? h(
            'div',
            { className: 'nudge', id: 'nudge' },
            h('p', {}, `Choose a new passcode by ${moment(d.passcodeUntil)}: ${d.passcodeDemand}.`),
            button('Choose now', () => {
              choosing = true;
              draw(d, true);
            }),
          )
        : null,
      h(
        'div',
        { className: 'shortcuts' },
        ...d.shortcuts.map((s) => tile(s.title, '#41607a', false, () => visit(s.address))),
        ...d.documents.map((s) => tile(s.title, '#7a5a30', false, () => window.open(`/content/${s.file}`))),
      ),
      d.signedIn
        ? h('p', { className: 'signed' }, `Signed in: ${d.signedIn} `, button('Sign out', () => post('sign-out')))
        : null,
      h(
        'div',
        { className: 'apps' },
        ...appTiles(d, {
          open: (app) => {
            const page = d.installed.find((a) => a.id === app)?.opens;
            if (page) {
              visit(page);
            } else {
              post('app', { app });
            }
          },
        }),
        d.provided.mailboxes.length
          ? tile('Mail', '#3f5f8a', d.apps.some((a) => a.id === 'system.mail' && !a.there), () => {
              mailOpen = true;
              draw(d, true);
            })
          : null,
        Object.keys(d.shelf).length
          ? tile('Shelf', '#8a6a1f', false, () => {
              shelfWords = '';
              draw(d, true);
            })
          : null,
        ...[
          ['Browser', '#2d6270', 'browser-gone', () => visit(d.noticed['start-page'] || 'https://vellmar.example/'), 'system.web'],
          ['Camera', '#5a4a52', 'camera-gone', undefined, 'system.camera'],
          ['Store', '#7a4630', 'store-gone'],
        ].map(([name, colour, gone, open, app]) =>
          tile(name, colour, d.noticed[gone] === 'true' || d.apps.some((a) => a.id === app && !a.there), open)),
      ),
    ),
};

/** What its holder is told where the device is not in order. */
function orderNote(d) {
  if (!d.order || d.order.state === 'in-order' || d.order.reasons.length === 0) return null;
  return h(
    'div',
    { className: `nudge order ${d.order.state}`, id: 'order' },
    h('div', {},
      h('b', {}, d.order.state === 'in-grace' ? 'Something to put in order' : 'This device is out of order'),
      ...d.order.reasons.map((r) => h('p', {}, r))),
  );
}

const moment = (at) => new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

function tile(name, colour, off, open) {
  const app = h(
    open && !off ? 'button' : 'span',
    { className: off ? 'app off' : 'app', id: `app-${name}`, onclick: open && !off ? open : null, type: 'button' },
    h('i', {}),
    name,
  );
  app.firstChild.style.background = colour;
  if (off) app.append(h('small', {}, 'turned off'));
  return app;
}

/** Opens an address in the browser, if the rules of the device let it. */
async function visit(address) {
  const a = await call('POST', `${base}/open`, { address });
  page = { address, objection: a.objection, way: a.way };
  draw(last, true);
}

function browser() {
  const field = h('input', { id: 'address', ariaLabel: 'Address', value: page.address, autocomplete: 'off' });
  const host = page.address.replace(/^https?:\/\//, '').replace(/[/?#].*$/, '');
  return h(
    'div',
    { className: 'browser' },
    h(
      'form',
      {
        onsubmit: (e) => {
          e.preventDefault();
          visit(field.value);
        },
      },
      field,
      h('button', { className: 'primary', id: 'visit' }, 'Open'),
      button('Close', () => {
        page = undefined;
        draw(last, true);
      }),
    ),
    page.objection
      ? h('div', { className: 'blocked', id: 'blocked', role: 'alert' }, h('h1', {}, 'Not opened'), h('p', {}, page.objection))
      : h('div', { className: 'opened', id: 'opened' }, h('h1', {}, host), h('p', {}, `The page at ${page.address}.`),
          ...page.way.map((w) => h('p', { className: 'way' }, w))),
  );
}

const advice = {
  'unknown-code': 'Check the code for a wrong letter.',
  'spent-code': 'Ask for a new invitation: this one has been used.',
  'lapsed-code': 'Ask for a new invitation: this one is too old.',
  'sign-in-failed': 'Check what you typed and start again.',
  'terms-required': 'Read the terms again and accept them.',
  'platform-refused': 'This kind of device cannot join here.',
  'os-too-old': 'Update the system of this device, then start again.',
  'identifier-taken': 'Ask your administrator: this device is on file as another one.',
  'not-on-roster': 'Ask your administrator to let this device in.',
  malformed: 'This device said something the server does not take. Ask your administrator.',
  'bad-link': 'Check that the whole link was typed.',
  unreachable: 'Check the network, then start again.',
  'too-many-tries': 'Wait a minute, then start again.',
};

function busy(title, text) {
  return h(
    'div',
    { className: 'busy' },
    h('div', { className: 'progress' }, h('i', {})),
    h('h1', {}, title),
    h('p', {}, text),
  );
}

function keypad(d, head, label, action, act) {
  const field = h('input', {
    id: 'passcode',
    type: 'password',
    value: typed,
    placeholder: label,
    ariaLabel: label,
    autocomplete: 'off',
    oninput: (e) => (typed = e.target.value),
  });
  const go = async () => {
    await act();
    typed = '';
    draw(last, true);
  };
  return h(
    'form',
    {
      className: 'keypad',
      onsubmit: (e) => {
        e.preventDefault();
        go();
      },
    },
    head,
    field,
    h('ul', { className: 'complaint', id: 'complaint', role: 'alert' }, ...complaint.map((c) => h('li', {}, c))),
    h('button', { className: 'primary', id: 'set' }, action),
  );
}

/** Writes in a font the organisation has handed out, where there is one. */
let worn;
async function wear(file) {
  if (file === worn) return;
  worn = file;
  if (!file) {
    screen.style.fontFamily = '';
    return;
  }
  const face = new FontFace('handed-out', `url(/content/${file.slice('sha256:'.length)})`);
  try {
    document.fonts.add(await face.load());
    screen.style.fontFamily = "'handed-out', sans-serif";
  } catch {
    screen.style.fontFamily = ''; // no font a browser can read
  }
}

let last;
function draw(d, force = false) {
  last = d;
  document.title = `${d.maker} ${d.model} · ${d.serial}`;
  document.getElementById('body').className = d.kind;
  const level = Math.round(d.battery);
  const bar = document.getElementById('bar').classList;
  bar.toggle('out', ['asleep', 'off'].includes(d.screen));
  bar.toggle('bare', d.screen === 'kiosk' && d.kiosk.off.includes('status-bar'));
  document.getElementById('bar').replaceChildren(
    h('span', {}, new Date().toTimeString().slice(0, 5)),
    h('span', { className: 'right' },
      [
        d.noticed.tunnel && !d.offline ? (d.faults.includes('tunnel-down') ? 'no tunnel' : 'tunnel') : '',
        d.offline ? 'no network' : !d.managed ? 'Wi-Fi' : d.pushOnly ? 'saving battery' : d.online ? 'connected' : 'connecting',
        `${level} %${d.charging ? ' charging' : ''}`,
      ].filter(Boolean).join(' · ')),
  );
  const key = JSON.stringify([d.screen, d.reason, d.lockText, d.lockPhone, d.passcodeDemand, d.passcodeUntil, d.signIn, d.signedIn, d.shortcuts, d.noticed, d.offer, d.order, d.firstRun, d.gate, d.updating, d.update, d.kiosk, d.kioskBack, d.installed, d.coming, d.shelf, d.wishes, d.opened, d.written, d.provided]);
  if (key !== shown || force) {
    if (key !== shown && !force) complaint = [];
    shown = key;
    if (d.screen !== 'kiosk') staff = false;
    const shows = d.screen === 'kiosk' && staff ? 'exit' : d.screen !== 'home' ? d.screen : choosing ? 'passcode' : page ? 'browser' : mailOpen ? 'mail' : shelfWords !== undefined ? 'shelf' : d.installed.some((a) => a.id === d.opened) ? 'app' : 'home';
    screen.replaceChildren(screens[shows](d));
    screen.dataset.screen = shows;
    wear(d.noticed.font);
    // a hundred percent is as drawn; at a tenth it can still be read
    screen.style.filter = d.noticed.brightness ? `brightness(${0.55 + 0.0045 * Number(d.noticed.brightness)})` : '';
  }
  screen.querySelector('.overlay')?.remove();
  document.getElementById('watched')?.remove();
  if (d.watched) {
    document.getElementById('bar').after(
      h('div', { id: 'watched', role: 'status' },
        h('span', {}, `${d.watched.by} sees ${d.watched.whole ? 'this screen' : 'your work apps'}${d.watched.taps ? ', and can tap and type' : ''}`),
        button('End', () => post('end-watching'))),
    );
  }
  const unread = d.messages.filter((m) => !m.read);
  if (d.ringing) {
    screen.append(
      h('div', { className: 'overlay ringing' }, h('b', {}, 'Ringing'), h('p', {}, d.ringText),
        button('Stop', () => post('stop-ringing'), 'primary')),
    );
  } else if (d.question) {
    screen.append(
      h('div', { className: 'overlay note', id: 'question' }, h('b', {}, 'Your organisation asks'),
        h('p', { className: 'asked' }, d.question),
        d.choices.length
          ? h('div', { className: 'choices' }, ...d.choices.map((c, i) => button(c, () => post('take', { choice: i + 1 }))))
          : h('div', { className: 'choice' },
          button('Decline', () => post('say', { on: false })),
          button('Accept', () => post('say', { on: true }), 'primary'))),
    );
  } else if (unread.length > 0) {
    screen.append(
      h('div', { className: 'overlay note', id: 'message' }, h('b', {}, 'Message from your organisation'),
        ...unread.map((m) => h('p', {}, m.text)), button('Put away', () => post('read-messages'), 'primary')),
    );
  }
  aside(d);
}

function aside(d) {
  document.getElementById('aside').replaceChildren(
    h('h2', {}, `${d.maker} ${d.model}`),
    h('dl', {}, ...[
      ['Serial', d.serial],
      ['Name', d.givenName],
      ['IMEI', d.imei],
      ['Platform', `${d.platform} ${d.osVersion}`],
      ['Came in', d.managed ? (d.handsFree ? 'hands-free' : 'by a code') : ''],
      ['Sessions', String(d.sessions)],
    ].filter(([, v]) => v).flatMap(([k, v]) => [h('dt', {}, k), h('dd', {}, v)])),
    h(
      'details',
      { id: 'faults', open: faultsOpen, ontoggle: (e) => (faultsOpen = e.target.open) },
      h('summary', {}, 'What can be wrong with it'),
      d.managed ? h('div', { className: 'tools' },
        ...[
          ['unencrypted', 'Turn encryption off', 'Turn encryption on'],
          ['unknown-sources', 'Let in apps from anywhere', 'Let in no apps from anywhere'],
          ['tampered', 'Tamper with its system', 'Put its system right'],
          ['full', 'Fill its storage', 'Make room in its storage'],
          ['no-install', 'Let every installation fail', 'Let installations work'],
          ['no-removal', 'Let no app be removed', 'Let apps be removed'],
          ['cellular', 'Leave Wi-Fi', 'Join Wi-Fi'],
          ...(d.noticed.tunnel ? [['tunnel-down', 'Let its tunnel answer no more', 'Let its tunnel answer']] : []),
          ['anti-theft', 'Bind it to an account', 'Free it from its account'],
          ['worn', 'Wear its battery', 'Give it a new battery'],
          ['no-erasing', 'Let it erase nothing', 'Let it erase itself'],
        ].map(([fault, on, off]) =>
          button(d.faults.includes(fault) ? off : on, () => post('fault', { fault, on: !d.faults.includes(fault) }))),
        d.imei ? button('Put in another SIM', () => post('sim', { number: `8999900${String(Date.now()).slice(-12)}` })) : '') :
      h('div', { className: 'tools' },
        button('Swap its board', () => {
          const serial = prompt('Serial number of the other board');
          if (serial) post('board', { serial });
        }),
        button('Garble what it says', () => post('garble', { on: true }))),
    ),
    d.managed
      ? h(
          'details',
          { id: 'apps-on-it', open: appsOpen, ontoggle: (e) => (appsOpen = e.target.open) },
          h('summary', {}, 'Apps that came with it'),
          h(
            'div',
            { className: 'tools' },
            ...d.apps.map((a) =>
              button(`${a.there ? 'Take away' : 'Put back'} ${a.name}`, () => post('take-away', { app: a.id })),
            ),
          ),
        )
      : '',
    d.order
      ? h('div', { id: 'in-order' }, h('h3', {}, { 'in-order': 'In order', 'in-grace': 'To be put in order', 'out-of-order': 'Out of order' }[d.order.state] ?? d.order.state),
          ...d.order.reasons.map((r) => h('p', { className: 'off-list' }, r)))
      : '',
    d.recoveryKey
      ? h('div', { id: 'recovery' }, h('h3', {}, 'What its disk opens with'), h('p', { className: 'off-list' }, d.recoveryKey))
      : '',
    h('h3', {}, 'What its holder can do'),
    h('div', { className: 'tools' },
      button(d.offline ? 'Come back' : 'Go out of reach', () => post('offline', { offline: !d.offline })),
      button('Check in now', () => post('check-in')),
      button(d.inUse ? 'Lay it down' : 'Use it', () => post('use', { on: !d.inUse })),
      d.kind === 'laptop'
        ? button(d.provided.lidClosed ? 'Open the lid' : 'Close the lid', () => post('lid', { on: !d.provided.lidClosed }))
        : null,
      button(d.pushOnly ? 'Keep a connection open' : 'Save battery: wait to be pushed', () =>
        post('save-battery', { on: !d.pushOnly })),
      d.removable ? button('End management', () => post('leave')) : null,
      button('Factory reset', () => post('reset')),
      h('label', {}, 'Language ', h('select', { id: 'language', onchange: (e) => post('language', { language: e.target.value }) },
        ...['en', 'fr', 'de'].map((l) => h('option', { value: l, selected: l === d.language }, l))))),
    d.managed && d.offer
      ? h(
          'details',
          {},
          h('summary', {}, 'What the organisation can see and do'),
          list('It can see', d.offer.visible, 'sees'),
          list('It never sees', d.offer.never, 'never'),
          list('It can do', d.offer.may ?? [], 'sees'),
          list('It cannot do', d.offer.mayNot ?? [], 'never'),
        )
      : '',
    d.turnedOff.length
      ? h('div', {}, h('h3', {}, 'Turned off here'), h('p', { className: 'off-list', id: 'turned-off' }, d.turnedOff.join(', ')))
      : '',
    d.provided.certificates.length
      ? h('div', { id: 'certificates' }, h('h3', {}, 'Certificates'),
          ...d.provided.certificates.map((c) =>
            h('p', { className: 'off-list' },
              `${c.own ? 'Proves itself as' : 'Trusts'} ${c.name}${c.kept ? '' : ' (can be taken off)'}`)))
      : '',
    Object.keys(d.provided.scripts).length
      ? h('div', { id: 'scripts' }, h('h3', {}, 'What its scripts wrote'),
          ...Object.entries(d.provided.scripts).map(([name, said]) => h('pre', { className: 'script' }, `${name}: ${said}`)))
      : '',
    h('h3', {}, `Set by the organisation (${d.settings.length})`),
    ...[...new Set(d.settings.map((s) => s.section))].flatMap((section) => [
      h('h4', {}, section),
      h(
        'dl',
        { className: 'settings' },
        ...d.settings
          .filter((s) => s.section === section)
          .flatMap((s) => [h('dt', {}, s.title), h('dd', {}, s.value)]),
      ),
    ]),
  );
}

async function refresh() {
  draw(await call('GET', base));
}
await refresh();
listen(`${base}/events`, refresh);
setInterval(refresh, 5000);
