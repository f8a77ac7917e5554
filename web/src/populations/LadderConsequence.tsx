import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Mark } from '../look/Mark';
import { count } from '../words/dates';
import styles from './LadderConsequence.module.css';

type Change = Schemas['LadderChangeView'];

/** What a ladder that is being worded would change: who moves, and what these hosts gain and lose. */
export function LadderConsequence({ change }: { change: Change }) {
  const { moves, verdicts, exceptions, offers, holidays, warnings } = change;
  const otherDays = offers.filter((offer) => !isMoreThanADay(offer)).map((offer) => offer.update);
  const later = otherDays.length;
  return (
    <div className="consequence">
      <Part title={moved(change) === 0 ? 'No host moves' : `${count(moved(change), 'host')} ${moved(change) === 1 ? 'moves' : 'move'}`}>
        {moves.map((move) => (
          <li key={`${move.from} ${move.to}`}>
            {count(move.hosts.count, 'host')} from <b>{move.from ?? 'no population'}</b> to <b>{move.to ?? 'no population'}</b>:{' '}
            <HostNames hosts={move.hosts} />
          </li>
        ))}
      </Part>
      <Part
        title={
          verdicts.length === 0
            ? 'No verdict gains or loses hosts'
            : `${count(verdicts.length, 'verdict')} ${verdicts.length === 1 ? 'gains or loses' : 'gain or lose'} hosts`
        }
      >
        {verdicts.map((verdict) => (
          <li key={verdict.number}>
            <Mark name={verdict.type} /> <Link to={`/cases/${encodeURIComponent(verdict.update)}`}>{verdict.update}</Link> for{' '}
            {verdict.population}
            {verdict.gains.count > 0 && (
              <>
                {' '}
                gains {count(verdict.gains.count, 'host')}: <HostNames hosts={verdict.gains} />
              </>
            )}
            {verdict.gains.count > 0 && verdict.loses.count > 0 && ','}
            {verdict.loses.count > 0 && (
              <>
                {' '}
                loses {count(verdict.loses.count, 'host')}: <HostNames hosts={verdict.loses} />
              </>
            )}
          </li>
        ))}
      </Part>
      <Part
        title={
          exceptions.length === 0
            ? 'No exception gains or loses hosts'
            : `No exception gains or loses hosts; ${exceptions.length === 1 ? 'one goes' : `${exceptions.length} go`} along with hosts that move`
        }
      >
        {exceptions.map((exception) => (
          <li key={exception.number}>
            no. {exception.number} of {exception.owner} stays with <HostNames hosts={exception.hosts} />
          </li>
        ))}
      </Part>
      <Part
        title={
          offers.length === 0
            ? 'No update is offered or due otherwise than now'
            : `${count(offers.length, 'update')} offered or due otherwise than now${hostDaysWords(offers)}`
        }
      >
        {offers.filter(isMoreThanADay).map((offer) => (
          <li key={offer.update} className={styles.update}>
            <Link to={`/cases/${encodeURIComponent(offer.update)}`}>{offer.title}</Link>
            {offer.offered.count > 0 && (
              <>
                {' '}
                offered to {count(offer.offered.count, 'host')}: <HostNames hosts={offer.offered} most={2} />
              </>
            )}
            {offer.offered.count > 0 && offer.withheld.count > 0 && ','}
            {offer.withheld.count > 0 && (
              <>
                {' '}
                withheld from {count(offer.withheld.count, 'host')}: <HostNames hosts={offer.withheld} most={2} />
              </>
            )}
            <Hosts hosts={offer.dueSooner}>due, or due earlier, on</Hosts>
            <Hosts hosts={offer.dueLater}>due later, or no more, on</Hosts>
            <Hosts hosts={offer.offersBegin}>offered some day without a verdict to</Hosts>
            <Hosts hosts={offer.offersEnd}>never offered without a verdict to</Hosts>
          </li>
        ))}
        {later > 0 && (
          <li>
            {count(later, 'update')} only on another day: {otherDays.slice(0, SHOWN).join(', ')}
            {later > SHOWN && ` and ${later - SHOWN} more`}
          </li>
        )}
      </Part>
      {holidays.length > 0 && (
        <Part title={`${count(holidays.length, 'calendar')} of holidays ${holidays.length === 1 ? 'changes' : 'change'}`}>
          {holidays.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </Part>
      )}
      {warnings.length > 0 && (
        <Part title="Look again">
          {warnings.map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
        </Part>
      )}
    </div>
  );
}

const SHOWN = 5;

/** False if nothing of it changes but the day on which it is offered. */
const isMoreThanADay = (offer: Change['offers'][number]) =>
  [offer.offered, offer.withheld, offer.dueSooner, offer.dueLater, offer.offersBegin, offer.offersEnd].some((hosts) => hosts.count > 0);

/** ": 340 host-days earlier". */
function hostDaysWords(offers: Change['offers']): string {
  const days = Math.round(offers.reduce((sum, offer) => sum + offer.hostDays, 0));
  return days === 0 ? '' : `: ${count(Math.abs(days), 'host-day')} ${days > 0 ? 'later' : 'earlier'} in all`;
}

function Hosts({ hosts, children }: { hosts: Schemas['HostList']; children: ReactNode }) {
  return hosts.count === 0 ? null : (
    <>
      {' '}
      {children} {count(hosts.count, 'host')}: <HostNames hosts={hosts} most={2} />
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode[] }) {
  return (
    <section>
      <h3 className={styles.kind}>{title}</h3>
      {children.length > 0 && <ul className="problems ink">{children}</ul>}
    </section>
  );
}

export function moved(change: Change): number {
  return change.moves.reduce((sum, move) => sum + move.hosts.count, 0);
}

/** What the button says: the effect. */
export function effect(change: Change): string {
  const hosts = moved(change);
  if (hosts > 0) {
    return `Save: ${count(hosts, 'host')} ${hosts === 1 ? 'moves' : 'move'}`;
  }
  return change.offers.length > 0 ? `Save: ${count(change.offers.length, 'update')} offered or due otherwise` : 'Save: no host moves';
}
