import { Button } from 'antd';
import { Link } from 'react-router';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { Mark } from '../look/Mark';
import { count, dayTime, lastDay, stretch, zoneWords } from '../words/dates';
import { askedWords, type HostWork, isAmiss, type OperatorWork, standingWords, tallyWords } from '../words/operators';
import { markOf, ratingWords, restartWords } from '../words/sentences';
import styles from './Operators.module.css';
import { SlotForm } from './SlotForm';

interface Props {
  work: OperatorWork;
  now: Date;
  /** The host that the keys act on, if it is one of these. */
  current?: string;
  point: (host: string) => void;
  chosen: string[];
  choose: (host: string) => void;
  /** False for whoever only looks. */
  mayAct: boolean;
  /** Address of the update, for whoever may open its case. */
  address: string;
  wording: boolean;
  word: (open: boolean) => void;
  done: (hosts: string[]) => void;
}

/** One update to be installed by hand on the hosts of a population: what to do, on which host first, and how far it is. */
export function Work({ work, now, current, point, chosen, choose, mayAct, address, wording, word, done }: Props) {
  const asked = askedWords(work.hosts, now, work.zone);
  const forSlot = hostsForSlot(work, chosen);
  const forDone = hostsDone(work, chosen, current);
  const asksForDay = work.hosts.some((host) => host.due !== undefined);
  const amiss = work.hosts.some(isAmiss);
  return (
    <section className={`${styles.work} ${current === undefined ? '' : styles.current}`} aria-label={`${work.update}, ${work.population}`}>
      <h2>
        <Mark name={markOf(work.match)} /> <Link to={address}>{work.title || work.update}</Link>{' '}
        <span className="mid">on {work.population}</span>
      </h2>
      <div>
        <span className="mid">{work.title !== '' && `${work.update} · `}</span>
        {ratingWords(work.rating)} · {restartWords(work.restart)}
        {asked !== undefined && (
          <>
            {' '}
            · <span className={amiss ? 'strong' : undefined}>{asked}</span>
          </>
        )}
      </div>
      <div>
        <Term name="by operator">By operator</Term>
        {work.author === undefined ? `, as ${work.population} leaves it to them` : `, decided by ${work.author}`}
        {work.words !== '' && `: ${work.words}`}.{' '}
        {work.owner !== '' && (
          <span className="mid">
            {work.owner} answers for {work.population}.
          </span>
        )}
      </div>
      <div className={styles.parts}>
        <div>
          {work.told.checklist.length > 0 ? (
            <>
              <h3>Steps</h3>
              <ol className={styles.steps}>
                {work.told.checklist.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            </>
          ) : (
            <p className="mid">No steps are told.</p>
          )}
          <h3>Next hours in which something may be installed</h3>
          {work.allowed.length === 0 ? (
            <div className="mid">none within five weeks</div>
          ) : (
            work.allowed.map((one) => <div key={one.from}>{stretch(one.from, one.until, now, work.zone)}</div>)
          )}
          <div className="mid">{zoneWords(work.zone)}</div>
        </div>
        <div>
          <div>
            To do on{' '}
            <span className="strong">
              {work.hosts.length} of {count(work.concerned, 'host')}
            </span>{' '}
            that it speaks of: {tallyWords(work.hosts, now, work.zone)}
          </div>
          <table className="list" aria-label={`Hosts for ${work.update}`}>
            <thead>
              <tr>
                {mayAct && <th scope="col" className={styles.choose} aria-label="Chosen" />}
                <th scope="col">Host</th>
                <th scope="col">
                  <Term name="slot">How far it is</Term>
                </th>
                {asksForDay && <th scope="col">Asked for until</th>}
                <th scope="col">Last report</th>
              </tr>
            </thead>
            <tbody>
              {work.hosts.map((host) => (
                <tr
                  key={host.host}
                  aria-current={host.host === current}
                  className={host.host === current ? 'current' : undefined}
                  onClick={() => point(host.host)}
                >
                  {mayAct && (
                    <td className={styles.choose}>
                      <input
                        type="checkbox"
                        aria-label={`Choose ${host.host}`}
                        checked={chosen.includes(host.host)}
                        onChange={() => choose(host.host)}
                      />
                    </td>
                  )}
                  <td className="nowrap">
                    <Link className="name" to={`/hosts/${encodeURIComponent(host.host)}`}>
                      {host.host}
                    </Link>
                    {work.told.order.includes(host.host) && <span className="mid"> no. {work.told.order.indexOf(host.host) + 1}</span>}
                  </td>
                  <td className={isAmiss(host) && host.standing !== 'NO_SLOT' ? 'strong' : undefined}>
                    {standingWords(host, now, work.zone)}
                    {host.said !== undefined && (
                      <span className="mid">
                        {' · '}
                        {host.said.author}
                        {host.said.words !== '' && `: ${host.said.words}`} {mayAct && <TakeBack work={work} said={host.said} />}
                      </span>
                    )}
                  </td>
                  {asksForDay && (
                    <td className={`nowrap ${host.late ? 'strong' : ''}`}>
                      {host.due === undefined ? <span className="mid">no day</span> : lastDay(host.due, now, work.zone)}
                      {host.late && ', past'}
                    </td>
                  )}
                  <td className="nowrap">{dayTime(host.lastReport, now, work.zone)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {mayAct && wording && <SlotForm work={work} hosts={forSlot} now={now} close={() => word(false)} />}
          {mayAct && !wording && (
            <div className={`${styles.acts} noprint`}>
              <Button onClick={() => word(true)}>Agree a slot for {namesOf(forSlot)}</Button>
              <Button onClick={() => done(forDone)}>Done on {namesOf(forDone)}</Button>
              <span className="mid">{chosen.length === 0 ? 'Choose hosts for others.' : 'The chosen ones.'}</span>
            </div>
          )}
        </div>
      </div>
    </section>
  );
}

/** What was said of several hosts at once is taken back of all of them. */
function TakeBack({ work, said }: { work: OperatorWork; said: NonNullable<HostWork['said']> }) {
  const { takeBackThese } = useLastAct();
  const hosts = work.hosts.filter((host) => host.said?.number === said.number).length;
  const words = `what ${said.author} said of ${work.update} on ${count(hosts, 'host')}.`;
  return (
    <button
      type="button"
      className="plain link noprint"
      onClick={() => takeBackThese({ words, undo: `/api/operator-work/entries/${said.number}` })}
    >
      Take back
    </button>
  );
}

const namesOf = (hosts: string[]) => (hosts.length === 1 ? hosts[0] : count(hosts.length, 'host'));

/** The chosen hosts of this work; where none is chosen those of which nothing good is said yet, or else all of them. */
export function hostsForSlot({ hosts }: OperatorWork, chosen: string[]): string[] {
  const open = hosts.filter(({ standing }) => standing !== 'AGREED' && standing !== 'SAID_DONE');
  const some = hosts.filter((host) => chosen.includes(host.host));
  return (some.length > 0 ? some : open.length > 0 ? open : hosts).map(({ host }) => host);
}

/** The chosen hosts of this work; where none is chosen the one that the keys act on: nobody says of many by one key that they are done. */
export function hostsDone({ hosts }: OperatorWork, chosen: string[], current: string | undefined): string[] {
  const names = hosts.map(({ host }) => host);
  const some = names.filter((name) => chosen.includes(name));
  return some.length > 0 ? some : names.filter((name) => name === (current ?? names[0]));
}
