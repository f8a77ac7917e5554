import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { api, body } from '../api/client';
import { Heading } from '../frame/Heading';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { SheetParts } from '../report/SheetParts';
import { dayTime } from '../words/dates';

/** One verdict on one page: the sentence, how the case stood, what was foreseen, and what then happened. */
export default function Sheet() {
  const now = useNow();
  const number = Number(useParams().number);
  const sheet = useQuery({
    queryKey: ['sheet', number],
    queryFn: () => body(api.GET('/api/verdicts/{number}/sheet', { params: { path: { number } } })),
    enabled: Number.isInteger(number),
  });
  if (sheet.isLoadingError || !Number.isInteger(number)) {
    return <Failed what="This verdict" error={sheet.error ?? new Error('its number cannot be read')} again={sheet.refetch} />;
  }
  if (sheet.data === undefined) {
    return <Loading what="this verdict" />;
  }
  const { update } = sheet.data;
  return (
    <main>
      <div className="head">
        <Heading>Verdict no. {number}</Heading>
        <span className="mid">
          {update.title === '' ? '' : `${update.title}, `}
          {update.id}; as of {dayTime(sheet.data.at, now)}
        </span>
        <span className="space" />
        <Link to={`/cases/${encodeURIComponent(update.id)}`} className="noprint">
          Case
        </Link>
        <button type="button" className="plain link noprint" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <SheetParts sheet={sheet.data} now={now} />
    </main>
  );
}
