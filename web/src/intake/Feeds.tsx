import { useQuery } from '@tanstack/react-query';
import { App } from 'antd';
import type { ReactNode } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Failed } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { count, soon, span } from '../words/dates';
import styles from './Feeds.module.css';
import { formatWords } from './FormatSelect';

/** The last eight digits of a fingerprint, which is what people compare first. */
export const keyWords = (fingerprint: string) => `…${fingerprint.slice(-8)}`;

export function useFeeds() {
  return useQuery({ queryKey: ['feeds'], queryFn: () => body(api.GET('/api/feeds')) });
}

/** What is fetched from where, whether it works, and when it comes next. */
export function Feeds({ mayFetch, remove }: { mayFetch: boolean; remove?: (name: string) => ReactNode }) {
  const now = useNow();
  const feeds = useFeeds();
  const { message } = App.useApp();
  const fetchNow = useChange((name: string) => body(api.POST('/api/feeds/{name}/imports', { params: { path: { name } } })), 'Not fetched');
  if (feeds.isLoadingError) {
    return <Failed what="The feeds" error={feeds.error} again={feeds.refetch} />;
  }
  if ((feeds.data?.length ?? 0) === 0) {
    return null;
  }
  return (
    <table className={`list ${styles.table}`} aria-label="Feeds">
      <thead>
        <tr>
          <th scope="col">Feed</th>
          <th scope="col">Last success</th>
          <th scope="col">Last try</th>
          <th scope="col">Next</th>
          <th scope="col" />
        </tr>
      </thead>
      <tbody>
        {feeds.data?.map((feed) => (
          <Row key={feed.name} what={feed.name} columns={5}>
            {() => (
              <tr>
                <td>
                  {feed.name}{' '}
                  <span className="mid">
                    {feed.kind === 'CSAF_PROVIDER' ? 'a provider of signed CSAF documents' : `brings ${formatWords(feed.formats)}`}
                  </span>
                  <div className={`mid ${styles.anywhere}`}>{feed.address}</div>
                </td>
                <td>{feed.succeeded === undefined ? <span className="strong">never</span> : `${span(feed.succeeded, now)} ago`}</td>
                <td className={`${styles.anywhere} ${feed.failures > 0 ? 'strong' : ''}`}>{tryWords(feed)}</td>
                <td className="nowrap">{soon(feed.due, now)}</td>
                <td className="nowrap">
                  {mayFetch && (
                    <button
                      type="button"
                      className="plain link"
                      disabled={fetchNow.isPending}
                      onClick={() =>
                        fetchNow.mutate(feed.name, {
                          onSuccess: (tried) => message.info(`${feed.name}: ${tried.outcome}`),
                        })
                      }
                    >
                      Fetch now
                    </button>
                  )}{' '}
                  {remove?.(feed.name)}
                </td>
              </tr>
            )}
          </Row>
        ))}
      </tbody>
    </table>
  );
}

const MINUTE = 60_000;

/** True if it has brought nothing for longer than two of its rounds. */
export function isLate(feed: Schemas['FeedView'], now: Date): boolean {
  const last = feed.succeeded ?? feed.tried;
  return last === undefined
    ? now.getTime() - new Date(feed.due).getTime() > feed.everyMinutes * MINUTE
    : (feed.succeeded === undefined && feed.failures > 0) || now.getTime() - new Date(last).getTime() > 2 * feed.everyMinutes * MINUTE;
}

/** "nothing has come for 3 days: the host does not answer". */
export function lateWords(feed: Schemas['FeedView'], now: Date): string {
  const since = feed.succeeded === undefined ? 'nothing has ever come' : `nothing has come for ${span(feed.succeeded, now)}`;
  return feed.failures > 0 ? `${since}: ${tryWords(feed)}` : `${since}, and it was not tried`;
}

function tryWords(feed: Schemas['FeedView']): string {
  if (feed.tried === undefined) {
    return 'not yet';
  }
  return feed.failures > 1 ? `${feed.outcome} (${count(feed.failures, 'try', 'tries')} in a row)` : feed.outcome;
}
