import { Checkbox } from 'antd';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { useWeights } from '../api/queries';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { Beam } from '../look/Beam';
import { CarriageBar } from '../look/CarriageBar';
import { Mark } from '../look/Mark';
import { count } from '../words/dates';
import { findingWords, markOf } from '../words/sentences';
import { suggestionWords } from '../words/weighing';
import { CellBeams, Factors } from './Factors';

interface Props {
  page: Schemas['CaseView'];
  rows: Schemas['PopulationRow'][];
  at: number;
  chosen: string[];
  now: Date;
  point: (at: number) => void;
  toggle: (population: string) => void;
  /** The population whose numbers are opened into their factors. */
  weighed: string | undefined;
  weigh: (population: string | undefined) => void;
}

/** The populations under each other: who lacks it, and what holds there. */
export function PopulationRows({ page, rows, at, chosen, now, point, toggle, weighed, weigh }: Props) {
  const weights = useWeights().data?.weights.tiers ?? [];
  const apart = page.populations.filter((row) => row.id !== undefined && row.hosts === row.states.notApplicable);
  const strays = page.populations.find((row) => row.id === undefined && row.lacking > 0);
  const id = encodeURIComponent(page.update.id);
  return (
    <section aria-label="Populations">
      <div className="pophead">
        <span />
        <span>Population</span>
        <span>
          <Term name="lacks">lack it</Term>
        </span>
        <span className="beamhead">
          <Term name="hazard">
            <span className="violet">installing costs</span>
          </Term>
          <Term name="exposure">
            <span className="ember">waiting costs</span>
          </Term>
        </span>
        <span>
          <Term name="what holds" /> · <Term name="suggestion" />
        </span>
      </div>
      {rows.length === 0 && (
        <p className="empty">
          <strong>No host has what this update is for.</strong>It will be a case when a host reports one of its products.
        </p>
      )}
      {rows.map((row, index) => (
        // biome-ignore lint/a11y/useKeyWithClickEvents: arrows move, Space chooses; the checkbox can be reached by itself
        // biome-ignore lint/a11y/noStaticElementInteractions: as above
        <div key={row.id} className={`poprow${index === at ? ' current' : ''}`} aria-current={index === at} onClick={() => point(index)}>
          <span style={{ paddingLeft: 4 }}>
            {row.lacking > 0 && (
              <Checkbox aria-label={`Choose ${row.name}`} checked={chosen.includes(row.id ?? '')} onChange={() => toggle(row.id ?? '')} />
            )}
          </span>
          <span>
            <span className="popname">{row.name}</span>{' '}
            <span className="mid">
              <Term name="tier">tier {row.tier}</Term>
            </span>
            {row.lackingUnknown > 0 && <div className="mid">{row.lackingUnknown} not heard from lately</div>}
          </span>
          <span>
            <Link
              to={`/carriers/${id}?population=${row.id}`}
              className="cellbutton"
              aria-label={`${row.name}: ${row.lacking} of ${row.hosts - row.states.notApplicable} lack it; show the hosts`}
            >
              <span className="strong">{row.lacking}</span> <span className="mid">of {row.hosts - row.states.notApplicable}</span>
              <CarriageBar counts={row.states} width={104} height={8} />
            </Link>
          </span>
          <span>
            {row.weighing && (
              <button
                type="button"
                className="plain beambutton"
                aria-expanded={weighed === row.id}
                title="What the weighing is made of"
                onClick={() => weigh(weighed === row.id ? undefined : row.id)}
              >
                <Beam exposure={row.weighing.exposure} hazard={row.weighing.hazard} tilt={row.weighing.tilt} width={228} />
              </button>
            )}
          </span>
          <span>
            {row.weighing && row.weighing.suggestion.type !== 'NONE' && (
              <div>
                <b>{suggestionWords(row.weighing.suggestion)}</b>
              </div>
            )}
            {row.holdings.length === 0 && <span className="mid">every host carries it</span>}
            {row.holdings.map((holding) => (
              <div key={JSON.stringify(holding.finding)} className="mid">
                <Mark name={markOf(holding.finding)} /> {row.holdings.length > 1 && <span className="strong">{holding.hosts.count}: </span>}
                {findingWords(holding.finding, now, row.timeZone)}{' '}
                {row.holdings.length > 1 && holding.hosts.count < 20 && <HostNames hosts={holding.hosts} most={2} />}
              </div>
            ))}
            {row.states.restartOutstanding > 0 && (
              <div className="mid under">
                <Term name="restart outstanding">{count(row.states.restartOutstanding, 'host')} to be restarted</Term>
              </div>
            )}
            {row.states.failed > 0 && (
              <div className="under">
                <Link to={`/carriers/${id}?population=${row.id}&state=FAILED`}>{count(row.states.failed, 'host')}</Link> tried and failed
              </div>
            )}
          </span>
          {row.weighing && row.weighing.cells.length > 1 && (
            <div className="wide">
              <CellBeams weighing={row.weighing} />
            </div>
          )}
          {row.weighing && weighed === row.id && (
            <div className="wide">
              <Factors weighing={row.weighing} evidence={page.evidence} weights={weights} now={now} />
            </div>
          )}
        </div>
      ))}
      {(apart.length > 0 || strays) && (
        <p className="mid" style={{ borderTop: '1px solid var(--rule-soft)', margin: 0, padding: '5px 26px' }}>
          {apart.length > 0 && `${apart.map((row) => row.name).join(', ')}: not applicable. `}
          {strays && (
            <>
              In no population: {strays.lacking} lack it,{' '}
              <HostNames hosts={{ count: strays.lacking, names: strays.holdings.flatMap((h) => h.hosts.names) }} />.
            </>
          )}
        </p>
      )}
    </section>
  );
}
