import { useQuery } from '@tanstack/react-query';
import { api, body, type Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { count, dayTime } from '../words/dates';
import { OVERDUE } from '../words/prevented';
import { ruleMatchWords } from '../words/sentences';
import styles from './Heard.module.css';

type Decided = Schemas['HeardDecision'];
type Hearing = Schemas['HeardHosts']['hearing'];

const WORDS: Record<Hearing, string> = {
  IN_FORCE: 'in force, as these hosts say',
  HEARD: 'heard; what became of it is not said',
  NOT_OBEYED: 'heard, and not in force',
  NOT_YET: 'not asked since',
  REFUSES: 'refuse newer orders',
  SILENT: 'silent too long',
  NEVER_ASKED: 'never asked for orders',
};

const IN_ORDER = Object.keys(WORDS) as Hearing[];

/** How far what was decided has come: hosts that do it, that have not asked yet, and that it does not reach, apart. */
export function Heard({ id, now }: { id: string; now: Date }) {
  const heard = useQuery({ queryKey: ['heard', id], queryFn: () => body(api.GET('/api/cases/{id}/heard', { params: { path: { id } } })) });
  const decisions = (heard.data ?? []).filter((one) => one.hosts > 0 || one.installedSince.count > 0);
  if (decisions.length === 0) {
    return null;
  }
  return (
    <section aria-label="Heard by" className={styles.section}>
      <h2>
        <Term name="heard by">Heard by</Term>
      </h2>
      {decisions.map((one) => (
        <One key={one.match.source} decision={one} now={now} />
      ))}
    </section>
  );
}

function One({ decision, now }: { decision: Decided; now: Date }) {
  const groups = IN_ORDER.flatMap((hearing) => decision.heard.filter((one) => one.hearing === hearing));
  const doing = groups.filter((one) => one.hearing === 'IN_FORCE').reduce((sum, one) => sum + one.hosts.count, 0);
  return (
    <div className={styles.one}>
      <div>
        {decision.hosts > 0 && (
          <span className="strong">
            In force on {doing} of {count(decision.hosts, 'host')}:{' '}
          </span>
        )}
        <span className="mid">
          {ruleMatchWords(decision.match, now)}; decided {dayTime(decision.decidedAt, now)}
        </span>
      </div>
      <div className={styles.bar} aria-hidden="true">
        {groups.map((group) => (
          <span key={group.hearing} className={styles[group.hearing]} style={{ flexGrow: group.hosts.count }} />
        ))}
      </div>
      {groups.map((group) => (
        <div key={group.hearing} className={styles.group}>
          <span className={`${styles.sign} ${styles[group.hearing]}`} aria-hidden="true" /> {group.hosts.count} {WORDS[group.hearing]}{' '}
          {group.hearing !== 'IN_FORCE' && <HostNames hosts={group.hosts} most={2} />}
          {group.problems.map((problem) => (
            <div key={problem} className={`mid ${styles.problem}`}>
              {problem}
            </div>
          ))}
        </div>
      ))}
      {decision.overdue.length > 0 && (
        <div className={styles.group}>
          <span className="strong">
            Overdue on{' '}
            {count(
              decision.overdue.reduce((sum, one) => sum + one.hosts.count, 0),
              'host',
            )}
          </span>
          {decision.overdue.map(({ why, hosts }) => (
            <div key={why}>
              {hosts.count} {OVERDUE[why]}
              {why === 'NO_WINDOW' && decision.nextWindow !== undefined && `; the next opens ${dayTime(decision.nextWindow, now)}`}{' '}
              <HostNames hosts={hosts} most={2} />
            </div>
          ))}
        </div>
      )}
      {decision.tooLate.count > 0 && (
        <div className={styles.group}>
          Too late to stop: <span className="strong">{count(decision.tooLate.count, 'host')}</span>{' '}
          {decision.tooLate.count === 1 ? 'has' : 'have'} downloaded it and may install it all the same{' '}
          <HostNames hosts={decision.tooLate} most={2} />
        </div>
      )}
      {decision.installedSince.count > 0 && (
        <div className={styles.group}>
          Installed all the same, after it was decided: <span className="strong">{count(decision.installedSince.count, 'host')}</span>{' '}
          <HostNames hosts={decision.installedSince} most={2} />
        </div>
      )}
    </div>
  );
}
