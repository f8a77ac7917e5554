import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { count } from '../words/dates';

/** What the update requires of its hosts, who is known to lack it, and what those can take instead. */
export function Requires({ requires: { all, cannotTake, instead } }: { requires: Schemas['RequiresView'] }) {
  const left = cannotTake.count - instead.reduce((sum, one) => sum + one.hosts.count, 0);
  return (
    <section>
      <h2>
        <Term name="requires">Requires</Term>{' '}
        <small>{cannotTake.count === 0 ? 'no host lacks it' : `${cannotTake.count} cannot take it`}</small>
      </h2>
      {all.map(({ words, lack }) => (
        <div key={words}>
          <span className="strong">{words}</span>
          {lack.count > 0 && (
            <>
              : {count(lack.count, 'host lacks', 'hosts lack')} it <HostNames hosts={lack} />
            </>
          )}
        </div>
      ))}
      {instead.map(({ update, title, hosts }) => (
        <div key={update}>
          {hosts.count} of them can take{' '}
          <Link to={`/cases/${encodeURIComponent(update)}`} title={title}>
            {update}
          </Link>{' '}
          instead, the newest that {hosts.count === 1 ? 'it lacks' : 'they lack'}{' '}
          {hosts.count < cannotTake.count && <HostNames hosts={hosts} />}
        </div>
      ))}
      {left > 0 && (
        <div className="mid">
          {left} of them {left === 1 ? 'lacks' : 'lack'} nothing that {left === 1 ? 'it' : 'they'} could take instead.
        </div>
      )}
    </section>
  );
}
