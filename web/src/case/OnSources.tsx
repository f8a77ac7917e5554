import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { count } from '../words/dates';
import styles from './OnSources.module.css';

type Sources = Schemas['SourcesOfUpdate'];

/** Whether hosts find the update where they take their packages from: what their sources do not have, no verdict brings. */
export function OnSources({ id }: { id: string }) {
  const sources = useQuery({
    queryKey: ['sources', id],
    queryFn: () => body(api.GET('/api/cases/{id}/sources', { params: { path: { id } } })),
  }).data;
  if (sources === undefined || !tellsAnything(sources)) {
    return null;
  }
  const told = sources.there.count + sources.notYet.reduce((sum, one) => sum + one.hosts.count, 0);
  return (
    <section aria-label="On their sources" className={styles.section}>
      <h2>
        <Term name="on their sources">On their sources</Term>
      </h2>
      {told > 0 && (
        <p className="flat">
          <span className="strong">{sources.notYet.length === 0 ? 'All' : `${sources.there.count} of`}</span> {count(told, 'host')} that
          lack it find it where they take updates from.
        </p>
      )}
      {sources.notYet.map((one) => (
        <p key={one.source} className="flat">
          Not yet on {one.source === '' ? 'sources that they do not name' : one.source}:{' '}
          <span className="strong">{count(one.hosts.count, 'host')}</span> <HostNames hosts={one.hosts} most={2} />
        </p>
      ))}
      {sources.notFetched.count > 0 && (
        <p className="flat">
          Not known of {count(sources.notFetched.count, 'host')}, which fetched {sources.notFetched.count === 1 ? 'its' : 'their'} lists
          last before it was published <HostNames hosts={sources.notFetched} most={2} />
        </p>
      )}
      {sources.notTold.count > 0 && (
        <p className="flat mid">
          {count(sources.notTold.count, 'more host')} {sources.notTold.count === 1 ? 'does' : 'do'} not tell{' '}
          <HostNames hosts={sources.notTold} most={2} />
        </p>
      )}
      {sources.judgedByName.count > 0 && (
        <p className="flat">
          It speaks of a source package, and {count(sources.judgedByName.count, 'host')}{' '}
          {sources.judgedByName.count === 1 ? 'tells' : 'tell'} no sources: only packages that bear its name are judged there{' '}
          <HostNames hosts={sources.judgedByName} most={2} />
        </p>
      )}
    </section>
  );
}

function tellsAnything({ there, notYet, judgedByName }: Sources): boolean {
  return there.count + notYet.length + judgedByName.count > 0;
}
