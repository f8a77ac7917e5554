import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { NumberField } from '../frame/NumberField';
import styles from './access.module.css';

type Server = Schemas['NewMailServer'];

const SECURITIES: { value: Server['security']; label: string }[] = [
  { value: 'STARTTLS', label: 'encrypted (STARTTLS)' },
  { value: 'TLS', label: 'encrypted from the start' },
  { value: 'NONE', label: 'in the open: on this machine only' },
];

/** By which server digests are mailed. */
export function MailServer() {
  const known = useQuery({ queryKey: ['mail server'], queryFn: () => body(api.GET('/api/mail-server')) });
  const [changed, setChanged] = useState<Partial<Server>>({});
  const [to, setTo] = useState('');
  const save = useChange((server: Server) => api.PUT('/api/mail-server', { body: server }));
  const forget = useChange(() => api.DELETE('/api/mail-server'), 'Not removed');
  const trial = useChange((address: string) => body(api.POST('/api/mail-server/trials', { body: { to: address } })));
  if (known.data === undefined) {
    return null;
  }
  const { server } = known.data;
  const shown: Server = {
    host: '',
    port: 587,
    security: 'STARTTLS',
    from: '',
    address: window.location.origin,
    ...server,
    password: undefined,
    ...changed,
  };
  const set = (change: Partial<Server>) => setChanged({ ...changed, ...change });
  return (
    <section>
      <h2>Mail</h2>
      <p className={`mid ${styles.lead}`}>
        The server that sends digests (SMTP). Its password is kept as it is in the data folder, and in backups; nobody is shown it again.
      </p>
      <div className="actions">
        <Input aria-label="Mail server" placeholder="mail.example.org" value={shown.host} onChange={(e) => set({ host: e.target.value })} />
        <NumberField label="Port" least={1} most={65535} width={90} value={shown.port} change={(port) => set({ port })} />
        <Select
          aria-label="How it is encrypted"
          value={shown.security}
          options={SECURITIES}
          onChange={(security) => set({ security })}
          popupMatchSelectWidth={false}
        />
      </div>
      <div className="actions">
        <Input
          aria-label="User at the mail server"
          placeholder="user, if it asks for one"
          autoComplete="off"
          value={shown.user ?? ''}
          onChange={(e) => set({ user: e.target.value })}
        />
        <Input
          aria-label="Password at the mail server"
          type="password"
          autoComplete="new-password"
          placeholder={server?.hasPassword ? 'as it was' : 'password'}
          value={shown.password ?? ''}
          onChange={(e) => set({ password: e.target.value })}
        />
        <Input
          aria-label="Mails come from"
          placeholder="lucid@example.org"
          value={shown.from}
          onChange={(e) => set({ from: e.target.value })}
        />
        <Input
          aria-label="Where browsers find this server"
          placeholder="https://lucid.example.org"
          value={shown.address}
          onChange={(e) => set({ address: e.target.value })}
        />
      </div>
      {save.error && (
        <p className="fault-line" role="alert">
          Not kept: {save.error.message}
        </p>
      )}
      <div className="actions">
        <Button
          disabled={Object.keys(changed).length === 0}
          loading={save.isPending}
          onClick={() => save.mutate(shown, { onSuccess: () => setChanged({}) })}
        >
          Use this server
        </Button>
        {server !== undefined && (
          <>
            <Button loading={forget.isPending} onClick={() => forget.mutate(undefined)}>
              Send no mails
            </Button>
            <Input aria-label="Send a mail to" placeholder="try it: send one to" value={to} onChange={(e) => setTo(e.target.value)} />
            <Button disabled={to.trim() === ''} loading={trial.isPending} onClick={() => trial.mutate(to)}>
              Try it
            </Button>
          </>
        )}
        {(trial.data ?? trial.error) && (
          <span role="status" className={trial.data && trial.data.failure === undefined ? 'mid' : 'fault-line'}>
            {trial.error
              ? trial.error.message
              : trial.data?.failure === undefined
                ? 'The server took the mail.'
                : `It was not sent: ${trial.data.failure}`}
          </span>
        )}
      </div>
    </section>
  );
}
