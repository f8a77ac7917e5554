import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { day } from '../words/dates';
import styles from './access.module.css';

/** Hosts inside the own network that the server may fetch documents from. */
export function AllowedHosts() {
  const now = useNow();
  const hosts = useQuery({ queryKey: ['allowed hosts'], queryFn: () => body(api.GET('/api/allowed-hosts')) });
  const [name, setName] = useState('');
  const allow = useChange(() => body(api.POST('/api/allowed-hosts', { body: { name } })));
  const remove = useChange((host: string) => api.DELETE('/api/allowed-hosts/{name}', { params: { path: { name: host } } }), 'Not changed');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    allow.mutate(undefined, { onSuccess: () => setName('') });
  };
  return (
    <section>
      <h2>Fetching documents</h2>
      <p className={`mid ${styles.lead}`}>
        From public addresses always; from hosts inside your own network only if they stand here. Redirects are checked as well.
      </p>
      {hosts.isLoadingError && <Failed what="The allowed hosts" error={hosts.error} again={hosts.refetch} />}
      {(hosts.data?.length ?? 0) > 0 && (
        <table className="list" aria-label="Allowed hosts">
          <tbody>
            {hosts.data?.map((host) => (
              <Row key={host.name} what={host.name} columns={3}>
                {() => (
                  <tr>
                    <td>{host.name}</td>
                    <td className="mid">
                      {host.author}, {day(host.createdAt, now)}
                    </td>
                    <td>
                      <button type="button" className="plain link" onClick={() => remove.mutate(host.name)}>
                        Remove
                      </button>
                    </td>
                  </tr>
                )}
              </Row>
            ))}
          </tbody>
        </table>
      )}
      <form onSubmit={submit} className="actions">
        <Input
          aria-label="Host to allow"
          placeholder="mirror.example"
          className={styles.medium}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button htmlType="submit" loading={allow.isPending} disabled={name.trim() === ''}>
          Allow
        </Button>
      </form>
      {allow.error && (
        <p className="fault-line" role="alert">
          Not allowed: {allow.error.message}
        </p>
      )}
    </section>
  );
}
