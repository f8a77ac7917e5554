import { Link } from 'react-router';
import { useOperatorWork } from '../api/queries';
import { count } from '../words/dates';
import { tallyWords } from '../words/operators';

/** What the operators of a decision have said so far; nothing where nothing is left for them to do. */
export function OperatorsSaid({ update, populations, now }: { update: string; populations: string[]; now: Date }) {
  const work = useOperatorWork(update).data?.filter((one) => populations.includes(one.populationId)) ?? [];
  return work.map((one) => (
    <div key={`${one.populationId} ${one.match.source}`}>
      {count(one.hosts.length, 'host')} of {one.population} to do: {tallyWords(one.hosts, now, one.zone)}.{' '}
      <Link to={`/by-operator?update=${encodeURIComponent(update)}`}>By operator</Link>
    </div>
  ));
}
