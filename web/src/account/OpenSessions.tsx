import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { dayTime } from '../words/dates';
import styles from './OpenSessions.module.css';

/** Where one is signed in; a session that one does not know is ended here. */
export function OpenSessions() {
  const now = useNow();
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => body(api.GET('/api/sessions')) });
  const end = useChange((id: string) => api.DELETE('/api/sessions/{id}', { params: { path: { id } } }), 'Not ended');
  const endOthers = useChange(() => api.DELETE('/api/sessions'), 'Not ended');
  return (
    <section>
      <h2>Where you are signed in</h2>
      <p className="mid">
        A session ends when you sign out, when your password or role changes, after two hours without use, and twelve hours after it began.
      </p>
      {sessions.isLoadingError && <Failed what="Your sessions" error={sessions.error} again={sessions.refetch} />}
      <table className="list" aria-label="Where you are signed in">
        <thead>
          <tr>
            <th scope="col">Began</th>
            <th scope="col">Last used</th>
            <th scope="col">From</th>
            <th scope="col">Browser</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {sessions.data?.map((session) => (
            <Row key={session.id} what="A session" columns={5}>
              {() => (
                <tr>
                  <td className="nowrap">{dayTime(session.began, now)}</td>
                  <td className="nowrap">{session.current ? <b>this one, now</b> : dayTime(session.used, now)}</td>
                  <td>{session.address}</td>
                  <td className={styles.anywhere}>{session.browser === '' ? <span className="mid">unknown</span> : session.browser}</td>
                  <td>
                    {!session.current && (
                      <button type="button" className="plain link" onClick={() => end.mutate(session.id)}>
                        End
                      </button>
                    )}
                  </td>
                </tr>
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {(sessions.data?.length ?? 0) > 1 && (
        <div className="actions">
          <Button loading={endOthers.isPending} onClick={() => endOthers.mutate(undefined)}>
            End all others
          </Button>
        </div>
      )}
    </section>
  );
}
