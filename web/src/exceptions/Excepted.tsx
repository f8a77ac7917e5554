import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { count } from '../words/dates';
import { ruleMatchWords } from '../words/sentences';

/** What an exception would do to the update on whose case it is worded. */
export function Excepted({ update, consequence, now }: { update: string; consequence: Schemas['ConsequenceView']; now: Date }) {
  const { named, decided, before, claimed } = consequence;
  return (
    <div className="consequence">
      <div>
        <span className="strong">{count(named, 'host')}</span> named; {count(decided.count, 'host')} of them{' '}
        {decided.count === 1 ? 'lacks' : 'lack'} {update} and would be under this exception <HostNames hosts={decided} />
      </div>
      {before.map(({ match, hosts }) => (
        <div key={JSON.stringify(match)} className="mid">
          {count(hosts.count, 'host')} {hosts.count === 1 ? 'is' : 'are'} now {ruleMatchWords(match, now)}; so it is again when the
          exception has lapsed
        </div>
      ))}
      {claimed.map(({ match, hosts }) => (
        <div key={JSON.stringify(match)}>
          <span className="strong">{count(hosts.count, 'host')}</span> not reached: still {ruleMatchWords(match, now)}{' '}
          <HostNames hosts={hosts} />
        </div>
      ))}
    </div>
  );
}
