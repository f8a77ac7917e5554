import { Input, type InputRef } from 'antd';
import { useRef } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { type ChangesAsked, readsEverything, useCarrierChanges, useSession } from '../api/queries';
import styles from '../carriers/Matrix.module.css';
import { fileQuery } from '../carriers/matrix';
import { ReportFaces } from '../carriers/ReportFaces';
import { Row } from '../frame/Boundary';
import { Choose } from '../frame/Choose';
import { DayPart } from '../frame/DayPart';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { count } from '../words/dates';
import { RATINGS, ratingWords } from '../words/sentences';

type Page = Schemas['Changes'];

/** What became of all updates between two days that were kept: who has got one, who has it no more. */
export default function CarrierChanges() {
  const now = useNow();
  const [search, set] = useAddress();
  const judges = readsEverything(useSession().data?.role);
  const finding = useRef<InputRef>(null);
  const asked: ChangesAsked = {
    from: search.get('from') ?? undefined,
    to: search.get('to') ?? undefined,
    find: search.get('find') || undefined,
    rating: (search.get('rating') ?? undefined) as ChangesAsked['rating'],
    exploited: search.get('exploited') === 'yes' ? true : undefined,
  };
  const changes = useCarrierChanges(asked);
  const page = changes.data?.pages[0];
  const days = page?.days ?? [];
  const step = (by: number) => {
    const next = days[days.indexOf(page?.from ?? '') + by];
    if (next !== undefined && next < (page?.to ?? '')) {
      set({ from: next });
    }
  };
  useKeys({
    s: () => finding.current?.focus(),
    '[': () => step(-1),
    ']': () => step(1),
  });
  const rows = changes.data?.pages.flatMap((one) => one.rows) ?? [];
  return (
    <main>
      <div className="head">
        <Heading>What changed</Heading>
        <ReportFaces face="/carriers?face=changes" judges={judges} />
      </div>
      {changes.isError ? (
        <>
          <Failed what="What changed" error={changes.error} again={changes.refetch} />
          <p className="more">
            <button type="button" className="plain link" onClick={() => set({ from: undefined, to: undefined })}>
              The last week
            </button>
          </p>
        </>
      ) : page === undefined ? (
        <Loading what="what changed" />
      ) : page.from === undefined || page.to === undefined ? (
        <p className="empty">
          <strong>There are no two days to compare yet.</strong>Which hosts have which update is kept each night from now on; after the
          second night what changed stands here. Of one update it is told with that update, as far back as hosts have reported.
        </p>
      ) : (
        <>
          <div className={styles.second}>
            <span>
              From the end of <DayPart label="From the end of" value={page.from} now={now} change={(from) => set({ from })} /> to the end of{' '}
              <DayPart label="To the end of" value={page.to} now={now} change={(to) => set({ to })} />
            </span>
            <span className="mid">{fleetWords(page)}</span>
            <span className="noprint">
              <a href={`/api/carriers/changes.csv?${fileQuery({ ...asked, from: page.from, to: page.to })}`} download>
                CSV
              </a>{' '}
              <a href={`/api/carriers/changes.json?${fileQuery({ ...asked, from: page.from, to: page.to })}`} download>
                JSON
              </a>{' '}
              <button type="button" className="plain link" onClick={() => window.print()}>
                Print
              </button>
            </span>
            <span className="space" />
            <Input
              ref={finding}
              aria-label="Find an update"
              placeholder="Find an update or CVE"
              allowClear
              size="small"
              className={styles.find}
              value={search.get('find') ?? ''}
              onChange={(e) => set({ find: e.target.value })}
            />
            <Choose
              label="Rating"
              all="All ratings"
              value={asked.rating}
              options={RATINGS.map((rating) => [rating, ratingWords(rating)] as const)}
              change={(rating) => set({ rating })}
            />
          </div>
          <div className="page">
            {rows.length === 0 ? (
              <p className="empty">
                <strong>Nothing changed{asked.find !== undefined || asked.rating !== undefined ? ' for these' : ''}.</strong>No host has got
                or lost an update between the two days.
              </p>
            ) : (
              <ChangedTable page={page} rows={rows} />
            )}
            {changes.hasNextPage && (
              <p className="more">
                <button type="button" className="plain link" onClick={() => changes.fetchNextPage()}>
                  Show more; {rows.length} of {page.matching} are shown
                </button>
              </p>
            )}
          </div>
        </>
      )}
      <Legend>
        <span>+ have got it · − had it and have it no more · new: came to the fleet with it. What changes today stands here tomorrow.</span>
        <Key name="[ ]">from a day earlier, later</Key>
        <Key name="S">find an update</Key>
      </Legend>
    </main>
  );
}

/** "4 hosts came to the fleet, 2 left it". */
function fleetWords(page: Page): string {
  const came = `${count(page.joined, 'host')} came to the fleet`;
  return page.left === undefined ? came : `${came}, ${page.left} left it`;
}

function ChangedTable({ page, rows }: { page: Page; rows: Page['rows'] }) {
  return (
    <table className={`list matrix ${styles.matrix}`} aria-label="What changed">
      <thead>
        <tr>
          <th scope="col">Update</th>
          {page.columns.map((column) => (
            <th scope="col" key={column.id}>
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => {
          const address = `/carriers/${encodeURIComponent(row.id)}?on=${page.to}&since=${page.from}`;
          return (
            <Row key={row.id} what={row.id} columns={page.columns.length + 1}>
              {() => (
                <tr>
                  <td>
                    <Link className={`serif strong ${styles.name}`} to={address}>
                      {row.title}
                    </Link>
                    <div className="mid">
                      {row.id} · {ratingWords(row.rating)}
                      {row.exploited && ' · known exploited'}
                      {row.readSince && ' · first read in between'}
                      {row.left !== undefined && row.left > 0 && ` · ${count(row.left, 'host')} with it left`}
                    </div>
                  </td>
                  {row.cells.map((cell, index) => (
                    <td key={page.columns[index]?.id}>
                      <ChangedCell cell={cell} to={`${address}&population=${page.columns[index]?.id}`} />
                    </td>
                  ))}
                </tr>
              )}
            </Row>
          );
        })}
      </tbody>
    </table>
  );
}

function ChangedCell({ cell, to }: { cell: Schemas['Became']; to: string }) {
  if (cell.gained + cell.lost + cell.joined === 0) {
    return <span className="faint">·</span>;
  }
  return (
    <Link className="cellbutton" to={to} aria-label={changedWords(cell)}>
      {cell.gained > 0 && <span className="strong nowrap">+{cell.gained}</span>}{' '}
      {cell.lost > 0 && <span className={`nowrap ${styles.lost}`}>−{cell.lost}</span>}{' '}
      {cell.joined > 0 && <span className="mid nowrap">{cell.joined} new</span>}
    </Link>
  );
}

/** "12 hosts have got it, 3 have it no more, 2 came with it". */
function changedWords(cell: Schemas['Became']): string {
  return [
    cell.gained > 0 && `${count(cell.gained, 'host')} ${cell.gained === 1 ? 'has' : 'have'} got it`,
    cell.lost > 0 && `${count(cell.lost, 'host')} ${cell.lost === 1 ? 'has' : 'have'} it no more`,
    cell.joined > 0 && `${count(cell.joined, 'host')} came with it`,
  ]
    .filter(Boolean)
    .join(', ');
}
