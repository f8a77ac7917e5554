import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { type FormEvent, useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { Feeds } from '../intake/Feeds';
import { type Format, FormatSelect, USUAL_WORDS } from '../intake/FormatSelect';
import { day } from '../words/dates';
import styles from './access.module.css';

type Kind = Schemas['FeedDraft']['kind'];

const KINDS: { value: Kind; label: string }[] = [
  { value: 'DOCUMENT', label: 'a document' },
  { value: 'CSAF_PROVIDER', label: 'a provider of signed CSAF documents' },
];

const EVERY = [
  { value: 60, label: 'every hour' },
  { value: 360, label: 'every 6 hours' },
  { value: 1440, label: 'every day' },
];

const LEVELS = (['CLEAR', 'GREEN', 'AMBER', 'AMBER_STRICT', 'RED'] as const).map((value) => ({
  value,
  label: `TLP:${value.replace('_', '+')}`,
}));

/** Up to which level documents may be shown to everybody who has an account. */
function SharingLevel() {
  const allowed = useQuery({ queryKey: ['sharing level'], queryFn: () => body(api.GET('/api/sharing-level')) });
  const change = useChange((level: Schemas['Allowed']['level']) => body(api.PUT('/api/sharing-level', { body: { level } })), 'Not changed');
  return (
    <p className="actions">
      <span>Documents are taken that may be shared up to</span>
      <Select
        aria-label="Up to which level documents may be shared"
        className={styles.medium}
        value={allowed.data?.level}
        onChange={(level) => change.mutate(level)}
        options={LEVELS}
      />
      <span className="mid">what asks for a narrower circle is held on Intake: everybody with an account sees what is taken</span>
    </p>
  );
}

/** What is fetched again and again, and whose signatures count. */
export function Subscriptions() {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<Kind>('DOCUMENT');
  const [address, setAddress] = useState('');
  const [everyMinutes, setEvery] = useState(360);
  const [formats, setFormats] = useState<Format[]>([]);
  const add = useChange(() => body(api.POST('/api/feeds', { body: { name, kind, address, everyMinutes, formats } })));
  const remove = useChange((feed: string) => api.DELETE('/api/feeds/{name}', { params: { path: { name: feed } } }), 'Not removed');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(undefined, {
      onSuccess: () => {
        setName('');
        setAddress('');
      },
    });
  };
  return (
    <section className={styles.wide}>
      <h2>Feeds</h2>
      <p className={`mid ${styles.lead}`}>
        Fetched on a schedule, and only what has changed. After a failure the next try waits longer, up to a day.
      </p>
      <Feeds
        mayFetch
        remove={(feed) => (
          <button type="button" className="plain link" onClick={() => remove.mutate(feed)}>
            Remove
          </button>
        )}
      />
      <SharingLevel />
      <form onSubmit={submit} className="actions">
        <Input
          aria-label="Name of the feed"
          placeholder="name"
          className={styles.short}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Select aria-label="What lies there" className={styles.medium} value={kind} onChange={setKind} options={KINDS} />
        <Input
          aria-label="Address of the feed"
          placeholder={kind === 'CSAF_PROVIDER' ? 'https://vendor.example/.well-known/csaf/provider-metadata.json' : 'https://…'}
          className={styles.long}
          value={address}
          onChange={(e) => setAddress(e.target.value)}
        />
        {kind === 'DOCUMENT' && <FormatSelect value={formats} onChange={setFormats} placeholder={USUAL_WORDS} />}
        <Select aria-label="How often" className={styles.short} value={everyMinutes} onChange={setEvery} options={EVERY} />
        <Button htmlType="submit" loading={add.isPending}>
          Add the feed
        </Button>
      </form>
      {add.error && (
        <p className="fault-line" role="alert">
          Not added: {add.error.message}
        </p>
      )}
      <TrustedKeys />
    </section>
  );
}

/** Keys by which providers may sign. */
function TrustedKeys() {
  const now = useNow();
  const keys = useQuery({ queryKey: ['trusted keys'], queryFn: () => body(api.GET('/api/trusted-keys')) });
  const [armored, setArmored] = useState('');
  const trust = useChange(() => body(api.POST('/api/trusted-keys', { body: { armored } })));
  const distrust = useChange(
    (fingerprint: string) => api.DELETE('/api/trusted-keys/{fingerprint}', { params: { path: { fingerprint } } }),
    'Not changed',
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    trust.mutate(undefined, { onSuccess: () => setArmored('') });
  };
  return (
    <>
      <h2>Trusted keys</h2>
      <p className={`mid ${styles.lead}`}>
        A provider's document counts only if one of these OpenPGP keys signed it; anything else is held on Intake. Compare the fingerprint
        with what its owner tells you by another way.
      </p>
      {keys.isLoadingError && <Failed what="The trusted keys" error={keys.error} again={keys.refetch} />}
      {(keys.data?.length ?? 0) > 0 && (
        <table className="list" aria-label="Trusted keys">
          <tbody>
            {keys.data?.map((key) => (
              <Row key={key.fingerprint} what={`Key ${key.fingerprint}`} columns={3}>
                {() => (
                  <tr>
                    <td>
                      {key.owner}
                      <div className="mid">
                        <code>{key.fingerprint}</code>
                      </div>
                    </td>
                    <td className="mid">
                      {key.author}, {day(key.createdAt, now)}
                    </td>
                    <td>
                      <button type="button" className="plain link" onClick={() => distrust.mutate(key.fingerprint)}>
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
        <Input.TextArea
          aria-label="Public key in ASCII armor"
          placeholder="-----BEGIN PGP PUBLIC KEY BLOCK-----"
          rows={2}
          value={armored}
          onChange={(e) => setArmored(e.target.value)}
        />
        <Button htmlType="submit" loading={trust.isPending} disabled={armored.trim() === ''}>
          Trust
        </Button>
      </form>
      {trust.error && (
        <p className="fault-line" role="alert">
          Not trusted: {trust.error.message}
        </p>
      )}
    </>
  );
}
