import { Checkbox } from 'antd';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Row } from '../frame/Boundary';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { Beam } from '../look/Beam';
import { CarriageBar } from '../look/CarriageBar';
import { Mark } from '../look/Mark';
import { count } from '../words/dates';
import { markOf, ruleMatchWords } from '../words/sentences';
import { suggestionWords } from '../words/weighing';
import { CellBeams, Factors } from './Factors';
import styles from './PopulationRows.module.css';
import { type CaseRow, idsOf, together } from './rows';

interface Props {
  page: Schemas['CaseView'];
  rows: CaseRow[];
  at: number;
  chosen: string[];
  now: Date;
  point: (at: number) => void;
  toggle: (row: CaseRow) => void;
  /** Whether populations with the same answer stand show separately. */
  each: boolean;
  showEach: (each: boolean) => void;
  /** The row whose numbers are opened into their factors. */
  weighed: string | undefined;
  weigh: (row: string | undefined) => void;
  weights: number[];
}

/** The populations under each other: who lacks it, and what holds there. */
export function PopulationRows({ page, rows, at, chosen, now, point, toggle, each, showEach, weighed, weigh, weights }: Props) {
  const apart = page.populations.filter((row) => row.hosts > 0 && row.hosts === row.states.notApplicable);
  const id = encodeURIComponent(page.update.id);
  const notRead = page.update.unread.length > 0 && page.update.fixes.length === 0;
  return (
    <section aria-label="Populations">
      <div className="pophead">
        <span />
        <span>
          Population{' '}
          {page.alike.length > 0 && (
            <button
              type="button"
              className="plain link noprint"
              title={each ? 'Populations with the same answer stand together' : 'Every population has a row of its own'}
              onClick={() => showEach(!each)}
            >
              {each ? 'together ←' : 'each →'}
            </button>
          )}
        </span>
        <span>
          <Term name="carries">have it</Term>
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
          <Term name="in force" />
        </span>
        <span className="suggestion">
          <Term name="suggestion">suggested</Term>
        </span>
      </div>
      {rows.length === 0 && (
        <p className="empty">
          {notRead ? (
            <>
              <strong>Nobody knows which hosts this update is for.</strong>None of its products could be read.
            </>
          ) : (
            <>
              <strong>No host has what this update is for.</strong>It will be a case when a host reports one of its products.
            </>
          )}
        </p>
      )}
      {rows.map((row, index) => (
        <Row key={row.id} what={namesOf(row)}>
          {() => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: arrows move, Space chooses; the checkbox can be reached by itself
            // biome-ignore lint/a11y/noStaticElementInteractions: as above
            <div className={`poprow${index === at ? ' current' : ''}`} aria-current={index === at} onClick={() => point(index)}>
              <span className={styles.place}>
                {row.lacking > 0 && (
                  <Checkbox
                    aria-label={`Choose ${namesOf(row)}`}
                    checked={idsOf(row).every((one) => chosen.includes(one))}
                    indeterminate={idsOf(row).some((one) => chosen.includes(one)) && !idsOf(row).every((one) => chosen.includes(one))}
                    onChange={() => toggle(row)}
                  />
                )}
              </span>
              <span>
                <span className="popname">{namesOf(row)}</span>{' '}
                <span className="mid nowrap">
                  <Term name="tier">tier {tiersOf(row)}</Term>
                </span>
                <div className="mid">
                  {openOf(row) > 0 && (
                    <span className="strong ink">{openOf(row) >= row.lacking ? 'to judge' : `${count(openOf(row), 'host')} to judge`}</span>
                  )}
                  {openOf(row) > 0 && row.lackingUnknown > 0 && ' · '}
                  {row.lackingUnknown > 0 && (
                    <>
                      {row.lackingUnknown} <Term name="unknown">unknown</Term>
                    </>
                  )}
                </div>
              </span>
              <span>
                <Link
                  to={`/carriers/${id}?population=${row.id}`}
                  className="cellbutton"
                  aria-label={`${havingOf(row)} of ${applicableOf(row)}, ${row.lacking} ${row.lacking === 1 ? 'lacks' : 'lack'} it: ${namesOf(row)}; show the hosts`}
                >
                  <span className="nowrap">
                    <span className="strong">{havingOf(row)}</span>{' '}
                    <span className="mid">
                      of {applicableOf(row)}, {row.lacking} {row.lacking === 1 ? 'lacks' : 'lack'}
                    </span>
                  </span>
                  <CarriageBar counts={row.states} width={108} height={8} />
                </Link>
              </span>
              <span>
                {row.beam && (
                  <button
                    type="button"
                    className="plain beambutton"
                    aria-expanded={weighed === row.id}
                    title="What the weighing is made of"
                    onClick={() => weigh(weighed === row.id ? undefined : row.id)}
                  >
                    <Beam exposure={row.beam.exposure} hazard={row.beam.hazard} usual={row.beam.usual} tilt={row.beam.tilt} width={204} />
                  </button>
                )}
              </span>
              <span>
                {row.groups.length === 0 && <span className="mid">every host carries it</span>}
                {together(row.groups).map((group) => (
                  <div key={JSON.stringify(group.match)} className="mid group">
                    <Mark name={markOf(group.match)} /> {row.groups.length > 1 && <span className="strong">{group.hosts.count}: </span>}
                    {ruleMatchWords(group.match, now, row.populations[0]?.timeZone)}{' '}
                    {row.groups.length > 1 && group.hosts.count < 20 && <HostNames hosts={group.hosts} most={2} />}
                  </div>
                ))}
                {row.states.restartOutstanding > 0 && (
                  <div className="mid under">
                    <Term name="restart outstanding">{count(row.states.restartOutstanding, 'host')} to be restarted</Term>
                  </div>
                )}
                {row.states.failed > 0 && (
                  <div className="under">
                    <Link to={`/carriers/${id}?population=${row.id}&state=FAILED`}>{count(row.states.failed, 'host')}</Link> tried and
                    failed
                  </div>
                )}
              </span>
              <span className="suggestion">{row.suggestion && suggestionWords(row.suggestion)} </span>
              {row.populations.map(
                (one) =>
                  one.weighing && (
                    <div key={one.id} className="wide">
                      <CellBeams weighing={one.weighing} now={now} />
                      {weighed === row.id && (
                        <>
                          {row.populations.length > 1 && <h3>{one.name}</h3>}
                          <Factors weighing={one.weighing} evidence={page.evidence} weights={weights} now={now} />
                        </>
                      )}
                    </div>
                  ),
              )}
            </div>
          )}
        </Row>
      ))}
      {apart.length > 0 && !notRead && <p className={`mid ${styles.apart}`}>{apart.map((row) => row.name).join(', ')}: not applicable.</p>}
    </section>
  );
}

const namesOf = (row: CaseRow) => row.populations.map((one) => one.name).join(', ');

const applicableOf = (row: CaseRow) => row.hosts - row.states.notApplicable;

const havingOf = (row: CaseRow) => applicableOf(row) - row.lacking;

/** Hosts that a cue is about and nobody has answered for. */
const openOf = (row: CaseRow) => row.populations.reduce((sum, one) => sum + one.open, 0);

/** "3, 4": each tier once. */
const tiersOf = (row: CaseRow) => [...new Set(row.populations.map((one) => one.tier))].sort().join(', ');
