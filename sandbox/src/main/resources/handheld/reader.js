import { call, h, nav } from './common.js';

nav();
const picture = document.getElementById('picture');
const link = document.getElementById('link');
const main = document.getElementById('read');

const base64 = (file) =>
  new Promise((done) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result.split(',')[1]);
    reader.readAsDataURL(file);
  });

const words = (value) => (typeof value === 'object' ? JSON.stringify(value) : String(value));

document.getElementById('scan').addEventListener('submit', async (e) => {
  e.preventDefault();
  const file = picture.files[0];
  const read = await call('POST', '/api/reader', file ? { picture: await base64(file) } : { link: link.value.trim() });
  main.replaceChildren(
    read.app
      ? h(
          'article',
          { className: 'letter', id: 'configured' },
          h('h2', {}, read.name),
          h('p', { className: 'advice' }, `${read.organisation}, ${read.unit}. Signed, and good until ${new Date(read.until).toLocaleDateString('en-GB', { dateStyle: 'long' })}.`),
          h('dl', { className: 'settings' }, ...Object.entries(JSON.parse(read.configuration)).flatMap(([k, v]) => [h('dt', {}, k), h('dd', {}, words(v))])),
        )
      : h('p', { className: 'complaint', role: 'alert', id: 'refused' }, read.detail ?? 'It cannot be read.'),
  );
});
