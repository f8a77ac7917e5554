import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { dayTime, span } from '../words/dates';

type Heard = Schemas['HeardByHost'];

const BECAME: Record<NonNullable<Heard['became']>, string> = {
  IN_FORCE: 'in force, as the host says',
  NOT_IN_FORCE: 'kept, but not all of it is in force',
  REFUSED: 'newer ones are refused; those before stay',
};

/** What a host has heard of its orders, and what it says became of them. */
export function OrdersHeard({ name, now }: { name: string; now: Date }) {
  const heard = useQuery({
    queryKey: ['heard', 'of host', name],
    queryFn: () => body(api.GET('/api/hosts/{name}/heard', { params: { path: { name } } })),
  }).data;
  if (heard === undefined) {
    return null;
  }
  return (
    <section aria-label="Orders">
      <h2>
        <Term name="orders">Orders</Term>
      </h2>
      {heard.askedAt === undefined ? (
        <p className="flat mid">
          It has never asked for orders: what stands under “in force” is decided here, and not known to be so on the host.
        </p>
      ) : (
        <dl className="facts">
          <dt>Last asked</dt>
          <dd>
            {dayTime(heard.askedAt, now)}, {span(heard.askedAt, now)} ago
          </dd>
          <dt>Has heard</dt>
          <dd>{heard.currentAt === undefined ? 'nothing yet' : `what was decided until ${dayTime(heard.currentAt, now)}`}</dd>
          <dt>They are</dt>
          <dd className={heard.became === 'IN_FORCE' ? '' : 'strong'}>
            {heard.became === undefined ? 'not spoken of by the host' : BECAME[heard.became]}
          </dd>
          {heard.problems.map((problem) => (
            <div key={problem} className="strong">
              {problem}
            </div>
          ))}
          <dt>Installs</dt>
          <dd>{heard.installs ? 'what is due, by itself' : 'nothing by itself'}</dd>
        </dl>
      )}
    </section>
  );
}
