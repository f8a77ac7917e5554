import { Input } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { useCarriers } from '../api/queries';
import { Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { CarriageBar } from '../look/CarriageBar';
import { count, dayTime } from '../words/dates';
import { ratingWords } from '../words/sentences';
import { applicable, NO_HOSTS } from '../words/states';

/** Which hosts carry what: updates by populations. */
export default function Carriers() {
  const matrix = useCarriers();
  const now = useNow();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get('find') ?? '';
  const content = search.get('show') === 'content';
  if (matrix.isError) {
    return <Failed what="The matrix" error={matrix.error} again={matrix.refetch} />;
  }
  if (!matrix.data) {
    return <Loading what="which hosts carry what" />;
  }
  const { columns, rows } = matrix.data;
  const isContent = (row: (typeof rows)[number]) => row.kind === 'CONTENT';
  const shown = rows
    .filter((row) => isContent(row) === content)
    .filter((row) => `${row.id} ${row.title}`.toLowerCase().includes(wanted.toLowerCase()));
  return (
    <main>
      <div className="head">
        <h1>Which hosts carry what</h1>
        <span className="mid">
          {count(matrix.data.hosts, 'host')}
          {matrix.data.lastReport !== undefined && `, reports read up to ${dayTime(matrix.data.lastReport, now)}`};{' '}
          {matrix.data.unknownHosts} unknown
        </span>
        <span className="space" />
        <Input
          aria-label="Find an update"
          placeholder="Find an update"
          allowClear
          style={{ width: 220 }}
          value={wanted}
          onChange={(e) => {
            const next = new URLSearchParams(search);
            if (e.target.value === '') {
              next.delete('find');
            } else {
              next.set('find', e.target.value);
            }
            setSearch(next, { replace: true });
          }}
        />
        <span className="choices">
          <Link to="/carriers" aria-current={!content}>
            Updates {rows.filter((row) => !isContent(row)).length}
          </Link>
          <Link to="/carriers?show=content" aria-current={content}>
            Content {rows.filter(isContent).length}
          </Link>
        </span>
      </div>
      {rows.length === 0 ? (
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
              {shown.map((row) => (
                <tr key={row.id}>
                  <td>
                    <Link className="serif strong" style={{ fontSize: 14.5 }} to={`/carriers/${encodeURIComponent(row.id)}`}>
                      {row.title}
                    </Link>
                    <div className="mid">
                      {row.id} · {ratingWords(row.rating)}
                    </div>
                  </td>
                  {row.cells.map((cell, index) => {
                    const column = columns[index];
                    const hosts = applicable(cell);
                    return (
                      <td key={column?.id}>
                        {hosts === 0 ? (
                          <span className="faint">·</span>
                        ) : (
                          <Link className="cellbutton" to={`/carriers/${encodeURIComponent(row.id)}?population=${column?.id}`}>
                            <CarriageBar counts={cell} width={84} />
                            <span className="nowrap" style={{ fontSize: 12 }}>
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
              ))}
            </tbody>
          </table>
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
          <CarriageBar counts={{ ...NO_HOSTS, unknown: 1 }} width={22} height={11} /> unknown: not heard from for three rhythms and three
          days
        </span>
        <span className="key">· not applicable</span>
      </Legend>
    </main>
  );
}
