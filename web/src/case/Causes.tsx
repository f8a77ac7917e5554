import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { RateBar } from '../look/RateBar';
import { count } from '../words/dates';
import { sharedWords } from '../words/weighing';

type Cause = Schemas['CauseView'];

interface Props {
  page: Schemas['CaseView'];
  now: Date;
  analyst: boolean;
  narrow: (where: string) => void;
}

/** Where the names stand of hosts that lack an update and meet a condition. */
export const lackingWhere = (update: string, where: string) => `/hosts?${new URLSearchParams({ lacks: update, where })}`;

/** The conditions that keys take, in their order: those of the first cause that is about hosts, best first. */
export function narrowings(causes: Cause[]): string[] {
  const first = causes.find((cause) => cause.shared.where !== undefined);
  return first === undefined ? [] : [first, ...first.alike].flatMap(({ shared }) => shared.where ?? []);
}

/** What failing hosts share: the best condition with its counts, and beside it those that the counts cannot tell from it. */
export function Causes({ page, now, analyst, narrow }: Props) {
  const { causes } = page.evidence;
  const keyed = narrowings(causes);
  const key = (where: string) => (keyed.indexOf(where) === 0 ? 'N' : String(keyed.indexOf(where) + 1));
  return causes.map((cause) => (
    <section key={sharedWords(cause.shared, now)}>
      <h2>
        <Term name="suspected cause">Suspected cause</Term> <small>adjusted p {cause.adjusted.toExponential(1)}</small>
      </h2>
      <div className="popname">{sharedWords(cause.shared, now)}</div>
      {(cause.shared.after ?? cause.shared.until) !== undefined && (
        <div className="mid">
          {cause.shared.until === undefined
            ? 'Whatever these hosts are: something is otherwise since then, and whoever tries it now may fail as well.'
            : 'Whatever these hosts are, they failed in that time: most likely an outage, not the update.'}
        </div>
      )}
      <div>
        inside: {cause.inside.count} of {cause.inside.of} failed{cause.code !== undefined && ` with ${cause.code}`}
      </div>
      <RateBar rate={cause.inside} />
      <div>
        outside: {cause.outside.count} of {cause.outside.of} failed
      </div>
      <RateBar rate={cause.outside} faint />
      {cause.shared.where !== undefined && (
        <div>
          {analyst && <Take where={cause.shared.where} words="Block where this holds" shortcut={key(cause.shared.where)} narrow={narrow} />}{' '}
          <Link to={lackingWhere(page.update.id, cause.shared.where)}>
            {count(cause.lacking, 'host')} {cause.lacking === 1 ? 'lacks' : 'lack'} it there
          </Link>
        </div>
      )}
      {cause.alike.length > 0 && (
        <>
          <div className="mid">
            <Term name="cannot be told apart">Cannot be told apart from</Term>:
          </div>
          <ul className="alike">
            {cause.alike.map((other) => (
              <li key={sharedWords(other.shared, now)}>
                {sharedWords(other.shared, now)}{' '}
                <span className="mid">
                  {other.inside.count} of {other.inside.of} failed, {other.outside.count} of {other.outside.of} outside
                </span>{' '}
                {analyst && other.shared.where !== undefined && (
                  <Take where={other.shared.where} words="Take this one" shortcut={key(other.shared.where)} narrow={narrow} />
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  ));
}

/** Narrows a block to a condition; the first nine have a key. */
function Take({ where, words, shortcut, narrow }: { where: string; words: string; shortcut: string; narrow: Props['narrow'] }) {
  return (
    <>
      <button type="button" className="plain link" onClick={() => narrow(where)}>
        {words}
      </button>{' '}
      {/^[N2-9]$/.test(shortcut) && <kbd>{shortcut}</kbd>}
    </>
  );
}
