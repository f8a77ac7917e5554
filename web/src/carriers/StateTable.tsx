import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { CarriageBar } from '../look/CarriageBar';
import { STATES, type State, stateWord } from '../words/states';
import styles from './carriers.module.css';

interface Props {
  columns: Schemas['Column'][];
  row: Schemas['Row'];
  populations: string[];
  /** Shows the hosts of a population, or of all, in a state, or in any. */
  pick: (population?: string, state?: State) => void;
}

/** The states of one update by population; they add up, and each count opens to its hosts. */
export function StateTable({ columns, row, populations, pick }: Props) {
  return (
    <table className="list" aria-label="States by population">
      <thead>
        <tr>
          <th scope="col">Population</th>
          <th scope="col" className={styles.bars} />
          {STATES.map((s) => (
            <th scope="col" key={s.value} className={styles.number}>
              <Term name={s.term}>{s.label}</Term>
            </th>
          ))}
          <th scope="col" className={styles.number}>
            all hosts
          </th>
        </tr>
      </thead>
      <tbody>
        {columns.map((column, index) => {
          const cell = row.cells[index];
          return cell === undefined || column.hosts === 0 ? null : (
            <StateRow
              key={column.id}
              name={column.name}
              cell={cell}
              hosts={column.hosts}
              current={populations.includes(column.id)}
              pick={(state) => pick(column.id, state)}
            />
          );
        })}
        <StateRow
          name="All hosts"
          cell={row.fleet}
          hosts={columns.reduce((sum, column) => sum + column.hosts, 0)}
          current={populations.length === 0}
          pick={(state) => pick(undefined, state)}
        />
      </tbody>
    </table>
  );
}

function StateRow({
  name,
  cell,
  hosts,
  current,
  pick,
}: {
  name: string;
  cell: Schemas['StateCounts'];
  hosts: number;
  current: boolean;
  pick: (state?: State) => void;
}) {
  const counts: [State, number][] = STATES.map((s) => [s.value, cell[s.count]]);
  return (
    <tr aria-current={current}>
      <td className="name" style={current ? { boxShadow: 'inset 4px 0 0 var(--ink)', paddingLeft: 10 } : { paddingLeft: 10 }}>
        <button type="button" className="plain" onClick={() => pick()}>
          {name}
        </button>
      </td>
      <td className={styles.bar}>
        <CarriageBar counts={cell} width={200} height={12} />
      </td>
      {counts.map(([state, number]) => (
        <td key={state} className={styles.number}>
          {number === 0 ? (
            <span className="faint">0</span>
          ) : (
            <button
              type="button"
              className="plain link strong"
              aria-label={`${name}: ${number} ${stateWord(state)}`}
              onClick={() => pick(state)}
            >
              {number}
            </button>
          )}
        </td>
      ))}
      <td className={styles.number}>{hosts}</td>
    </tr>
  );
}
