import { fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { SpokenField, Templates } from './Spoken';

const text: Schemas['CommandField'] = {
  key: 'text',
  title: 'Message',
  type: { kind: 'text', min: 1, max: 500, lines: true } as Schemas['ValueType'],
  required: true,
  secret: false,
  corporateOnly: [],
  spoken: true,
};
const catalogue = {
  languages: [
    { key: 'en', title: 'English' },
    { key: 'fr', title: 'Français' },
  ],
};
let now: Record<string, string>;

function Form() {
  const [fields, setFields] = useState<Record<string, string>>({ text: 'Closed at four.' });
  now = fields;
  return (
    <>
      <SpokenField field={text} fields={fields} onChange={setFields} />
      <Templates command="message" fields={fields} onTake={(w) => setFields({ ...fields, ...w })} />
    </>
  );
}

describe('what is said to holders', () => {
  it('is said in other languages as well, with what is each device’s own', async () => {
    serve({ 'GET /catalogue': catalogue, 'GET /message-templates': { items: [] } });
    show(<Form />);
    await screen.findByText('Français');
    fireEvent.change(screen.getByLabelText('Message in another language'), { target: { value: 'fr' } });
    fireEvent.change(screen.getByLabelText('Message, Français'), {
      target: { value: 'Fermé à quatre heures.' },
    });
    expect(now).toEqual({ text: 'Closed at four.', 'text@fr': 'Fermé à quatre heures.' });
    fireEvent.change(screen.getAllByLabelText(/Add what is each device/)[0]!, {
      target: { value: '{self:Name}' },
    });
    fireEvent.click(screen.getByLabelText('Without Français'));
    expect(Object.keys(now)).toEqual(['text']);
  });

  it('is kept under a name, taken again and forgotten', async () => {
    const kept = {
      ...{ id: 't1', version: 3, name: 'Early', command: 'message', title: 'Send message', madeBy: 'ada' },
      fields: { text: 'We close at three.' },
    };
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /message-templates': { items: [kept, { ...kept, id: 't2', command: 'lock' }] },
      'POST /message-templates': { ...kept, id: 't3' },
      'DELETE /message-templates/t1': {},
    });
    show(<Form />);
    fireEvent.click(await screen.findByText('Keep these words …'));
    fireEvent.change(screen.getByLabelText('Name of the words'), { target: { value: ' At four ' } });
    fireEvent.click(screen.getByText('Keep'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST')?.body).toEqual({
        name: 'At four',
        command: 'message',
        fields: { text: 'Closed at four.' },
      }),
    );
    fireEvent.change(await screen.findByLabelText('Words that were kept'), { target: { value: 't1' } });
    expect(now['text']).toBe('We close at three.');
    fireEvent.click(screen.getByText('Forget it'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'DELETE')?.headers.get('If-Match')).toBe('"3"'),
    );
  });
});
