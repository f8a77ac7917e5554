import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import { NumberField } from '../frame/NumberField';
import { useNow } from '../frame/useNow';
import { type Format, FormatSelect, formatWords } from '../intake/FormatSelect';
import { day, dayTime } from '../words/dates';
import styles from './access.module.css';
import { EnrolSeveral } from './EnrolSeveral';

type Scope = Schemas['Token']['scope'];

const SCOPES: { value: Scope; label: string }[] = [
  { value: 'ENROL', label: 'enrol one host, once' },
  { value: 'HOST', label: 'report one host and hear its orders' },
  { value: 'REPORT', label: 'report any host' },
  { value: 'IMPORT', label: 'bring documents' },
  { value: 'BACKUP', label: 'take backups' },
  { value: 'MONITOR', label: 'read counts for a monitor' },
];

const ofOneHost = (scope: Scope) => scope === 'HOST' || scope === 'ENROL';

/** Which machines may send, and what. */
export function Tokens() {
  const now = useNow();
  const [text, setText] = useState('');
  const tokens = useQuery({
    queryKey: ['tokens', text],
    queryFn: () => body(api.GET('/api/tokens', { params: { query: { text: text.trim() === '' ? undefined : text } } })),
    placeholderData: keepPreviousData,
  });
  const hidden = tokens.data === undefined ? 0 : tokens.data.all - tokens.data.tokens.length;
  const key = useQuery({ queryKey: ['orders key'], queryFn: () => body(api.GET('/api/orders-key')) }).data;
  const [name, setName] = useState('');
  const [scope, setScope] = useState<Scope>('ENROL');
  const [host, setHost] = useState('');
  const [days, setDays] = useState<number | undefined>(7);
  const [formats, setFormats] = useState<Format[]>([]);
  const make = useChange(() =>
    body(
      api.POST('/api/tokens', {
        body: {
          name,
          scope,
          host: ofOneHost(scope) ? host : undefined,
          formats: scope === 'IMPORT' ? formats : [],
          days,
        },
      }),
    ),
  );
  const revoke = useChange((token: string) => api.DELETE('/api/tokens/{name}', { params: { path: { name: token } } }), 'Not revoked');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate(undefined, {
      onSuccess: () => {
        setName('');
        setHost('');
      },
    });
  };
  return (
    <section>
      <h2>Machine tokens</h2>
      {tokens.isLoadingError && <Failed what="The tokens" error={tokens.error} again={tokens.refetch} />}
      <table className="list" aria-label="Machine tokens">
        <thead>
          <tr>
            <th scope="col">Token</th>
            <th scope="col">May</th>
            <th scope="col">Made</th>
            <th scope="col">Expires</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {tokens.data?.tokens.map((token) => (
            <Row key={token.name} what={token.name} columns={5}>
              {() => (
                <tr>
                  <td>
                    {token.name}
                    <div className="mid">{token.lastUsed === undefined ? 'not used yet' : `used ${dayTime(token.lastUsed, now)}`}</div>
                  </td>
                  <td>
                    {SCOPES.find((s) => s.value === token.scope)?.label ??
                      (token.scope === 'FEED' ? 'read a feed of the record' : 'read the calendar of what is in force')}
                    {token.host !== undefined && `: ${token.host}`}
                    {token.scope === 'IMPORT' && <span className="mid">: {formatWords(token.formats)}</span>}
                  </td>
                  <td>{day(token.created, now)}</td>
                  <td>
                    {token.expires === undefined ? 'never' : day(token.expires, now)}
                    {token.expires !== undefined && new Date(token.expires) <= now && <span className="strong"> (it has)</span>}
                  </td>
                  <td>
                    <button type="button" className="plain link" onClick={() => revoke.mutate(token.name)}>
                      Revoke
                    </button>
                  </td>
                </tr>
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {(hidden > 0 || text !== '') && (
        <div className="actions">
          <Input
            aria-label="Find a token"
            placeholder="find a token by its name or host"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <span className="mid" role="status">
            {hidden > 0 ? `and ${hidden.toLocaleString('en-GB')} more` : `${tokens.data?.all ?? 0} found`}
          </span>
        </div>
      )}
      <form onSubmit={submit} className="actions">
        <Input
          aria-label="Name of the token"
          placeholder="name"
          className={styles.short}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Select aria-label="What it may do" className={styles.medium} value={scope} onChange={setScope} options={SCOPES} />
        {ofOneHost(scope) && (
          <Input aria-label="Host" placeholder="host" className={styles.short} value={host} onChange={(e) => setHost(e.target.value)} />
        )}
        {scope === 'IMPORT' && (
          <FormatSelect value={formats} onChange={setFormats} placeholder="everything that people do not judge" populations />
        )}
        <span>
          for{' '}
          <NumberField label="Days until it expires" placeholder="ever" least={1} most={3660} width={64} value={days} change={setDays} />{' '}
          days
        </span>
        <Button htmlType="submit" loading={make.isPending}>
          Make
        </Button>
      </form>
      {scope === 'ENROL' && <EnrolSeveral days={days} />}
      {make.error && (
        <p className="fault-line" role="alert">
          Not made: {make.error.message}
        </p>
      )}
      {make.data && (
        <p className="fault-line">
          The token {make.data.name}, shown this once: <code>{make.data.token}</code>
          {make.data.scope === 'ENROL' && (
            <>
              . On the host, with it in a file: <code>lucid-reporter enrol --server {window.location.origin} --token-file FILE</code>
              {key !== undefined && (
                <>
                  ; it then names the key <code>{key.id}</code>
                </>
              )}
            </>
          )}
        </p>
      )}
    </section>
  );
}
