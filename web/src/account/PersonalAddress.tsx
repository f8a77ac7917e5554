import { useQuery } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { useNow } from '../frame/useNow';
import { day } from '../words/dates';
import styles from './PersonalAddress.module.css';

interface Props {
  use: 'CALENDAR' | 'SLOTS' | 'FEED';
  title: string;
  /** What another program reads there. */
  what: string;
}

/** A secret address by which another program reads one thing; told once. */
export function PersonalAddress({ use, title, what }: Props) {
  const now = useNow();
  const { message } = App.useApp();
  const path = { params: { path: { use } } };
  const known = useQuery({ queryKey: ['address', use], queryFn: () => body(api.GET('/api/addresses/{use}', path)) });
  const make = useChange(() => body(api.POST('/api/addresses/{use}', path)), 'Not made');
  const revoke = useChange(() => api.DELETE('/api/addresses/{use}', path), 'Not revoked');
  const address = make.data === undefined ? undefined : `${window.location.origin}${make.data.path}`;
  const since = known.data?.since;
  return (
    <section>
      <h2>{title}</h2>
      <p className="mid">{what} Whoever knows the address reads that: it opens nothing else, and is shown once.</p>
      {address !== undefined && (
        <p>
          <code className={styles.address}>{address}</code>{' '}
          <button
            type="button"
            className="plain link"
            onClick={async () => {
              await navigator.clipboard.writeText(address);
              message.info('The address is copied.');
            }}
          >
            Copy
          </button>
        </p>
      )}
      <div className="actions">
        <Button loading={make.isPending} onClick={() => make.mutate(undefined)}>
          {since === undefined ? 'Make an address' : 'Make another address'}
        </Button>
        {since !== undefined && (
          <>
            <Button loading={revoke.isPending} onClick={() => revoke.mutate(undefined, { onSuccess: () => make.reset() })}>
              Revoke it
            </Button>
            <span className="mid">one was made {day(since, now)}; another takes its place</span>
          </>
        )}
      </div>
    </section>
  );
}
