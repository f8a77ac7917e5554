import { useQuery } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { useNow } from '../frame/useNow';
import { day } from '../words/dates';
import styles from './CalendarAddress.module.css';

/** The secret address by which another program shows when what is in force ends; told once. */
export function CalendarAddress() {
  const now = useNow();
  const { message } = App.useApp();
  const known = useQuery({ queryKey: ['calendar address'], queryFn: () => body(api.GET('/api/calendar-address')) });
  const make = useChange(() => body(api.POST('/api/calendar-address')), 'Not made');
  const revoke = useChange(() => api.DELETE('/api/calendar-address'), 'Not revoked');
  const address = make.data === undefined ? undefined : `${window.location.origin}${make.data.path}`;
  const since = known.data?.since;
  return (
    <section>
      <h2>Your calendar of what is in force</h2>
      <p className="mid">
        Ends, dues, answer days and freezes, for a program that shows calendars (iCalendar). Whoever knows the address reads them: it opens
        nothing else, and is shown once.
      </p>
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
