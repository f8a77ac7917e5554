import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, body } from '../api/client';
import { Choose } from '../frame/Choose';
import { Heading } from '../frame/Heading';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { dayTime } from '../words/dates';
import styles from './Digest.module.css';

/** What one should know in the morning, or hand over in the evening: what asks for something, what ends, what was decided. */
export default function Digest() {
  const now = useNow();
  const [search, set] = useAddress();
  const hours = Number(search.get('hours') ?? 24) || 24;
  const digest = useQuery({
    queryKey: ['digest', hours],
    queryFn: () => body(api.GET('/api/digest', { params: { query: { hours, zone: 'Z' } } })),
  });
  return (
    <main>
      <div className="head">
        <Heading>Digest</Heading>
        <span className="mid">
          {digest.data && `what happened since ${dayTime(digest.data.from, now)}, and what comes within seven days`}
        </span>
        <span className="space" />
        <Choose
          label="What happened since"
          all="The last day"
          value={search.get('hours') ?? undefined}
          options={[
            ['8', 'The last eight hours'],
            ['72', 'The last three days'],
            ['168', 'The last week'],
          ]}
          change={(value) => set({ hours: value })}
        />
        <Link to="/account" className="noprint">
          By mail
        </Link>
        <button type="button" className="plain link noprint" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <div className={`page ${styles.sections}`}>
        {digest.isLoadingError && <Failed what="The digest" error={digest.error} again={digest.refetch} />}
        {digest.isPending && <Loading what="the digest" />}
        {digest.data?.sections.length === 0 && (
          <p className="empty">
            <strong>Nothing asks for you.</strong>Nothing has happened in that time that is yours to know, and nothing ends within seven
            days.
          </p>
        )}
        {digest.data?.sections.map((section) => (
          <section key={section.title}>
            <h2>{section.title}</h2>
            <ul className={styles.lines}>
              {section.lines.map((line) => (
                <li key={line.text}>{line.path === undefined ? line.text : <Link to={line.path}>{line.text}</Link>}</li>
              ))}
              {section.more > 0 && <li className="mid">and {section.more} more</li>}
            </ul>
          </section>
        ))}
      </div>
    </main>
  );
}
