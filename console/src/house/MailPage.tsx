import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schemas } from '../api/client';
import { ConnectionForm, filled, type Field } from './ConnectionForm';
import { onVersion } from '../ui/RecordSheet';

const fields: Field[] = [
  { name: 'host', label: 'Mail server', placeholder: 'mail.vellmar.example' },
  { name: 'port', label: 'Port', placeholder: '25' },
  { name: 'security', label: 'Security', choices: ['none', 'starttls', 'tls'] },
  { name: 'login', label: 'Login', hint: 'Leave empty where the server asks for none.' },
  { name: 'password', label: 'Password', secret: true },
  { name: 'from', label: 'Letters come from', placeholder: 'it@vellmar.example' },
  {
    name: 'noticesTo',
    label: 'Notices go to',
    placeholder: 'it@vellmar.example',
    hint: 'Such as a credential that lapses. Empty: they are seen here only.',
  },
  {
    name: 'contact',
    label: 'Whom to ask',
    placeholder: 'Jory in the office, extension 12',
    hint: 'Stands below every letter.',
  },
];

/** Outgoing mail. */
export function MailPage() {
  const mail = useQuery({ queryKey: ['mail'], queryFn: () => answer(api.GET('/mail')) });
  if (!mail.data) {
    return null;
  }
  const s = mail.data.settings;
  const kept: Record<string, string> = s
    ? { ...s, port: String(s.port), password: '' }
    : { security: 'none', port: '25' };
  return (
    <ConnectionForm
      key={mail.data.state}
      title="Mail"
      note="how letters leave: invitations and notices"
      topic="mail"
      {...mail.data}
      fields={fields}
      kept={kept}
      needed={['host', 'from']}
      tryIt="Send a letter to try it, and keep"
      error={mail.error}
      onSave={(draft, on) => {
        const body = { ...filled(draft), port: Number(draft.port || 25) } as Schemas['MailDraft'];
        return answer(api.PUT('/mail', { params: { header: onVersion(on) }, body }));
      }}
    />
  );
}
