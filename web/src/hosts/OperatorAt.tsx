import { Link } from 'react-router';
import { useOperatorWork } from '../api/queries';
import { askedWords, isAmiss, standingWords } from '../words/operators';

/** What an operator is to install on one host, and how far that is; nothing where there is nothing to do. */
export function OperatorAt({ name, now }: { name: string; now: Date }) {
  const work = (useOperatorWork().data ?? []).flatMap((one) =>
    one.hosts.filter(({ host }) => host === name).map((host) => ({ ...one, host })),
  );
  if (work.length === 0) {
    return null;
  }
  return (
    <section aria-label="By operator">
      <h2>By operator</h2>
      {work.map(({ update, match, zone, host }) => (
        <p key={`${update} ${match.source}`} className="flat">
          <Link to={`/by-operator?update=${encodeURIComponent(update)}`}>{update}</Link>:{' '}
          <span className={isAmiss(host) ? 'strong' : ''}>{standingWords(host, now, zone)}</span>
          {host.due !== undefined && `, ${askedWords([host], now, zone)}`}
        </p>
      ))}
    </section>
  );
}
