import { Input } from 'antd';
import { Link } from 'react-router';
import { useCarriers } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { CarriageBar } from '../look/CarriageBar';
import { count, dayTime } from '../words/dates';
import { ratingWords } from '../words/sentences';
import { applicable, NO_HOSTS } from '../words/states';
import styles from './Carriers.module.css';

/** Which hosts carry what: updates by populations. */
export default function Carriers() {
  const now = useNow();
  const [search, set] = useAddress();
  const wanted = search.get('find') ?? '';
  const content = search.get('show') === 'content';
  const matrix = useCarriers(wanted, content);
  if (matrix.isLoadingError) {
    return <Failed what="The matrix" error={matrix.error} again={matrix.refetch} />;
  }
  const page = matrix.data?.pages[0];
  if (!page) {
    return <Loading what="which hosts carry what" />;
  }
  const { columns } = page;
  const rows = matrix.data?.pages.flatMap((one) => one.rows) ?? [];
  return (
    <main>
      <div className="head">
        <Heading>Which hosts carry what</Heading>
        <span className="mid">
          {count(page.hosts, 'host')}
          {page.lastReport !== undefined && `, reports read up to ${dayTime(page.lastReport, now)}`}; {page.unknownHosts} unknown
        </span>
        <span className="space" />
        <Input
          aria-label="Find an update"
          placeholder="Find an update or CVE"
          allowClear
          className={styles.find}
          value={wanted}
          onChange={(e) => set({ find: e.target.value })}
        />
        <span className="choices">
          <Link to="/carriers" aria-current={!content}>
            Updates {page.updates}
          </Link>
          <Link to="/carriers?show=content" aria-current={content}>
            Content {page.content}
          </Link>
        </span>
      </div>
      {page.updates + page.content === 0 ? (
        <p className="empty">
          <strong>No updates yet.</strong>Each update that comes in is a row here, each population a column.{' '}
          <Link to="/intake">Bring documents in</Link>.
        </p>
      ) : (
        <div className="page">
          <table className="list matrix">
            <thead>
              <tr>
                <th scope="col">Update</th>
                {columns.map((column) => (
                  <th scope="col" key={column.id}>
                    {column.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <Row key={row.id} what={row.id} columns={columns.length + 1}>
                  {() => (
                    <tr>
                      <td>
                        <Link className={`serif strong ${styles.name}`} to={`/carriers/${encodeURIComponent(row.id)}`}>
                          {row.title}
                        </Link>
                        <div className="mid">
                          {row.id} · {ratingWords(row.rating)}
                          {row.notRead > 0 && ` · ${count(row.notRead, 'product')} not read`}
                        </div>
                      </td>
                      {row.cells.map((cell, index) => {
                        const column = columns[index];
                        const hosts = applicable(cell);
                        return (
                          <td key={column?.id}>
                            {hosts === 0 ? (
                              <span className="faint">{row.notRead > 0 ? '?' : '·'}</span>
                            ) : (
                              <Link className="cellbutton" to={`/carriers/${encodeURIComponent(row.id)}?population=${column?.id}`}>
                                <CarriageBar counts={cell} width={84} />
                                <span className={`nowrap ${styles.count}`}>
                                  <span className="strong">{cell.carries}</span>{' '}
                                  <span className="mid">
                                    of {hosts}
                                    {cell.unknown > 0 && `, ${cell.unknown} ?`}
                                  </span>
                                </span>
                              </Link>
                            )}
                          </td>
                        );
                      })}
                    </tr>
                  )}
                </Row>
              ))}
            </tbody>
          </table>
          {rows.length === 0 && (
            <p className="empty">
              <strong>
                {wanted === '' ? 'Nothing here.' : `No ${content ? 'content' : 'update'} has “${wanted}” in its name or closes it.`}
              </strong>
            </p>
          )}
          {matrix.hasNextPage && (
            <p className="more">
              <button type="button" className="plain link" onClick={() => matrix.fetchNextPage()}>
                Show more; {rows.length} of {page.matching} are shown
              </button>
            </p>
          )}
        </div>
      )}
      <Legend>
        <span className="key">
          <CarriageBar counts={{ ...NO_HOSTS, carries: 1 }} width={22} height={11} /> carries
        </span>
        <span className="key">
          <CarriageBar counts={{ ...NO_HOSTS, restartOutstanding: 1 }} width={22} height={11} /> restart outstanding, or not re-checked
        </span>
        <span className="key">
          <CarriageBar counts={{ ...NO_HOSTS, partly: 1 }} width={22} height={11} /> in part
        </span>
        <span className="key">
          <CarriageBar counts={{ ...NO_HOSTS, missing: 1 }} width={22} height={11} /> lacks
        </span>
        <span className="key">
          <CarriageBar counts={{ ...NO_HOSTS, unknown: 1 }} width={22} height={11} /> unknown: not heard from for three check-in intervals
          and three days
        </span>
        <span className="key">· not applicable; ? products not read: nobody knows</span>
      </Legend>
    </main>
  );
}
