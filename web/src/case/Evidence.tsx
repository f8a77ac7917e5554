import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas, undoOf } from '../api/client';
import { useChange } from '../api/queries';
import { Row } from '../frame/Boundary';
import { HostNames } from '../frame/HostNames';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { RateBar } from '../look/RateBar';
import { Timeline } from '../look/Timeline';
import { count, day, isoDay } from '../words/dates';
import { names } from '../words/sentences';
import { classWord, percent } from '../words/weighing';
import { CaseNoteDialog, CaseNotes } from './CaseNotes';
import { Causes, lackingWhere } from './Causes';
import { DismissFailureDialog, FailureDialog, IssueDialog, NoteDialog } from './EvidenceDialogs';

type Page = Schemas['CaseView'];
export type Dialog = 'failure' | 'issue' | 'note' | 'words' | undefined;

interface Props {
  page: Page;
  now: Date;
  analyst: boolean;
  dialog: Dialog;
  open: (dialog: Dialog) => void;
  narrow: (where: string) => void;
}

/** What speaks for and against it: suspected causes, failures, known issues, reports from elsewhere, exploitation, which hosts are not affected. */
export function Evidence({ page, now, analyst, dialog, open, narrow }: Props) {
  const { evidence } = page;
  const act = (words: string, which: Dialog) =>
    analyst && (
      <div className="evidence-act noprint">
        <button type="button" className="plain link mid" onClick={() => open(which)}>
          {words}
        </button>
      </div>
    );
  return (
    <>
      <CaseNotes page={page} now={now} analyst={analyst} write={act('Write a note (M)', 'words')} />
      <Causes page={page} now={now} analyst={analyst} narrow={narrow} />
      <Failures page={page} now={now} analyst={analyst} tell={act('Report a failure (T)', 'failure')} />
      <section>
        <h2>
          Known issues <small>{evidence.issues.filter((issue) => issue.state === 'OPEN').length} open</small>
        </h2>
        {evidence.issues.map((issue) => (
          <Row key={issue.id} what={issue.id}>
            {() => (
              <div className={issue.state === 'OPEN' ? '' : 'past'}>
                {issue.words}{' '}
                <span className="mid">
                  {issue.state === 'OPEN' ? '' : `${issue.state === 'FIXED' ? 'Fixed' : 'Worked around'}. `}
                  {issue.failureClass !== undefined && `${classWord(issue.failureClass)}; `}
                  {issue.touches === undefined ? 'it names no hosts' : `touches ${count(issue.touches.count, 'host')} that lack it`}
                  {issue.where !== undefined && ` (${issue.where})`}. {issue.source}, {day(issue.since, now)}
                  {issue.inherited && `; told of ${issue.updates.join(', ')}, which this supersedes, and not told to be fixed`}
                </span>{' '}
                {issue.touches !== undefined && issue.touches.count > 0 && <HostNames hosts={issue.touches} most={2} />}{' '}
                {analyst && issue.state === 'OPEN' && !issue.inherited && <IssueFixed issue={issue} />}
              </div>
            )}
          </Row>
        ))}
        {act('Report a known issue', 'issue')}
      </section>
      <Reports page={page} now={now} analyst={analyst} />
      <Exploitation page={page} now={now} />
      <section>
        <h2>
          <Term name="not affected">Not affected</Term> <small>{count(evidence.notAffected.count, 'host')}</small>
        </h2>
        {evidence.notes.map((note) => (
          <Row key={note.number} what={`Note ${note.number}`}>
            {() => <NoteLine update={page.update.id} note={note} now={now} analyst={analyst} />}
          </Row>
        ))}
        {evidence.notAffected.count > 0 && evidence.notes.every((note) => note.revokedAt !== undefined) && (
          <div>
            Told not to be affected: <HostNames hosts={evidence.notAffected} most={2} />
          </div>
        )}
        {evidence.notes.some((note) => note.revokedAt === undefined) && page.update.vulnerabilities.length > 0 && (
          <div className="mid noprint">
            As statements for others:{' '}
            <a href={`/api/cases/${encodeURIComponent(page.update.id)}/csaf-vex`} download>
              CSAF VEX
            </a>{' '}
            <a href={`/api/cases/${encodeURIComponent(page.update.id)}/openvex`} download>
              OpenVEX
            </a>
          </div>
        )}
        {act('Note hosts that are not affected', 'note')}
      </section>
      {page.siblings.length > 0 && (
        <section>
          <h2>The same vulnerability elsewhere</h2>
          {page.siblings.map((id, index) => (
            <span key={id}>
              {index > 0 && ', '}
              <Link to={`/cases/${encodeURIComponent(id)}`}>{id}</Link>
            </span>
          ))}
        </section>
      )}
      {dialog === 'failure' && <FailureDialog update={page.update.id} close={() => open(undefined)} />}
      {dialog === 'issue' && <IssueDialog page={page} close={() => open(undefined)} />}
      {dialog === 'words' && <CaseNoteDialog page={page} close={() => open(undefined)} />}
      {dialog === 'note' && <NoteDialog page={page} close={() => open(undefined)} />}
    </>
  );
}

/** What people told of failures: the desk of our own hosts, other sites of theirs. */
function Reports({ page, now, analyst }: { page: Page; now: Date; analyst: boolean }) {
  const { reports } = page.evidence;
  const takeBack = useChange((id: string) => api.DELETE('/api/failure-reports', { params: { query: { id } } }), 'Not taken back');
  if (reports.length === 0) {
    return null;
  }
  const elsewhere = reports.reduce((sum, report) => sum + report.others, 0);
  return (
    <section>
      <h2>
        Told by people <small>{elsewhere > 0 && `${count(elsewhere, 'host')} elsewhere`}</small>
      </h2>
      {reports.map((report) => (
        <Row key={report.id} what={`Report ${report.id}`}>
          {() => (
            <div>
              {report.code !== undefined && <span className="strong">{report.code} </span>}
              {report.words}{' '}
              <span className="mid">
                {hostsOf(report)}, {classWord(report.failureClass)}. {report.source}, {day(report.at, now)}
              </span>{' '}
              {analyst && (
                <button type="button" className="plain link mid noprint" onClick={() => takeBack.mutate(report.id)}>
                  Take back
                </button>
              )}
            </div>
          )}
        </Row>
      ))}
    </section>
  );
}

/** Which hosts a report tells of: "ksk-012 and 4 more, 34 hosts elsewhere with reader = R2". */
export function hostsOf(report: Schemas['ReportView']) {
  const own = [...report.hosts, ...report.unknownHosts.map((name) => `${name} (not known here)`)];
  const parts = [];
  if (own.length > 0) {
    parts.push(names({ count: own.length, names: own }, 3));
  }
  if (report.others > 0) {
    parts.push(`${count(report.others, 'host')} elsewhere${report.where === undefined ? '' : ` with ${report.where}`}`);
  }
  return parts.join(', ');
}

function Failures({ page, now, analyst, tell }: { page: Page; now: Date; analyst: boolean; tell: React.ReactNode }) {
  const { tries, dismissedFailures } = page.evidence;
  const [dismissing, dismiss] = useState<string | undefined>();
  const { takeBackThese } = useLastAct();
  const days = tries.days.map((one) => ({ at: one.day, value: one.tried }));
  return (
    <section>
      <h2>
        Installs tried here{' '}
        <small>{tries.failed.of === 0 ? 'none yet' : `${tries.failed.count} of ${count(tries.failed.of, 'host')} failed`}</small>
      </h2>
      {tries.failed.of > 0 && (
        <>
          <Timeline
            points={days}
            most={Math.max(...tries.days.map((one) => one.tried))}
            now={now}
            colour="var(--faint)"
            height={34}
            label={`Hosts that tried it, from ${day(tries.days[0]?.day ?? '', now)}: ${tries.failed.of} now`}
          />
          {tries.codes.map((code) => (
            <div key={code.code}>
              <span className="strong">{code.code}</span>{' '}
              <span className="mid">
                {classWord(code.failureClass)}, {count(code.rate.count, 'host')}, {percent(code.rate.rate)}
              </span>
              <RateBar rate={code.rate} usual={tries.usualRate} />
              <div className="mid">
                {names(code.hosts, 4)}{' '}
                {analyst && (
                  <button type="button" className="plain link mid noprint" onClick={() => dismiss(code.hosts.names[0])}>
                    Not by this update …
                  </button>
                )}
              </div>
            </div>
          ))}
          <div className="mid">
            <Term name="baseline rate">Baseline rate</Term>: {percent(tries.usualRate)}, from {tries.usualTries.toLocaleString('en-GB')}{' '}
            installs tried of updates of its kind that were not found bad
            {tries.failed.count > 0 &&
              `; ${tries.aboveUsual > 0.999 ? 'almost certainly (> 99.9 %)' : `with ${percent(tries.aboveUsual)} certainty`} more than twice that, and more than 1 %`}
            .
          </div>
        </>
      )}
      {tries.waiting.count > 0 && (
        <div className="mid">
          <Term name="waiting">Waiting</Term>: {count(tries.waiting.count, 'host')} installed it and{' '}
          {tries.waiting.count === 1 ? 'has' : 'have'} not reported a day or more after it.
        </div>
      )}
      {dismissedFailures.map((one) => (
        <Row key={one.number} what={one.host}>
          {() => (
            <div className={one.revokedAt === undefined ? 'mid' : 'past'}>
              {one.host}: not by this update, {one.reason}. {one.author}, {day(one.createdAt, now)}{' '}
              {analyst && one.revokedAt === undefined && (
                <button
                  type="button"
                  className="plain link mid noprint"
                  onClick={() =>
                    takeBackThese({
                      words: `the failure of ${one.host} is not by ${page.update.id}.`,
                      undo: undoOf('dismissedFailure', [one.number]),
                    })
                  }
                >
                  Take back
                </button>
              )}
            </div>
          )}
        </Row>
      ))}
      {tell}
      {dismissing !== undefined && (
        <DismissFailureDialog
          page={page}
          hosts={tries.codes.flatMap((code) => code.hosts.names)}
          first={dismissing}
          close={() => dismiss(undefined)}
        />
      )}
    </section>
  );
}

/** Exploitation of its mostSevere vulnerability over time. */
function Exploitation({ page, now }: { page: Page; now: Date }) {
  const vulnerabilities = [...page.evidence.vulnerabilities].sort((a, b) => b.risk - a.risk);
  const mostSevere = vulnerabilities[0];
  if (mostSevere === undefined) {
    return null;
  }
  return (
    <section>
      <h2>
        Exploitation{' '}
        <small>
          {mostSevere.added === undefined
            ? mostSevere.from === 'RATING'
              ? 'not scored'
              : 'not known'
            : `known since ${day(mostSevere.added, now)}`}
        </small>
      </h2>
      {mostSevere.exploitedWords !== '' && <div>{mostSevere.exploitedWords}</div>}
      {mostSevere.ransomware && <div className="strong">Ransomware is known to use it.</div>}
      {(mostSevere.asked !== '' || mostSevere.due !== undefined) && (
        <div>
          The catalogue asks
          {mostSevere.due !== undefined && (
            <>
              {' '}
              by <span className="strong">{day(mostSevere.due, now)}</span>
              {mostSevere.due < isoDay(now, 0) && ', which is past'}
            </>
          )}
          {mostSevere.asked !== '' && `: ${mostSevere.asked}`}
        </div>
      )}
      <Timeline
        points={mostSevere.scores.map((score) => ({ at: score.read, value: score.probability }))}
        most={Math.max(0.1, ...mostSevere.scores.map((score) => score.probability))}
        now={now}
        colour="var(--ember)"
        label={`Exploit probability of ${mostSevere.id}: ${mostSevere.scores.map((score) => `${score.probability} on ${day(score.scored, now)}`).join(', ')}`}
      />
      {vulnerabilities.slice(0, 4).map((vulnerability) => {
        const last = vulnerability.scores[vulnerability.scores.length - 1];
        return (
          <div key={`${vulnerability.closedBy} ${vulnerability.id}`} className="mid">
            {vulnerability.id === '' ? 'No CVE named' : vulnerability.id}
            {vulnerability.closedBy !== undefined && `, closed by ${vulnerability.closedBy}, which this contains`}:{' '}
            {last === undefined
              ? `not scored, ${vulnerability.likelihood} by rating`
              : `probability ${last.probability}, higher than ${percent(last.percentile)} of all; ${day(last.scored, now)}, model ${last.model || 'not told'}`}
          </div>
        );
      })}
      {vulnerabilities.length > 4 && <div className="mid">and {vulnerabilities.length - 4} more</div>}
    </section>
  );
}

function NoteLine({ update, note, now, analyst }: { update: string; note: Schemas['NoteView']; now: Date; analyst: boolean }) {
  const { takeBackThese } = useLastAct();
  return (
    <div className={note.revokedAt === undefined ? '' : 'past'}>
      where {note.where}: {note.reason}.{' '}
      <span className="mid">
        <Link to={lackingWhere(update, note.where)}>{count(note.hosts, 'host')}</Link>. {note.author}, {day(note.createdAt, now)}
      </span>{' '}
      {analyst && note.revokedAt === undefined && (
        <button
          type="button"
          className="plain link mid noprint"
          onClick={() => takeBackThese({ words: `hosts where ${note.where} are not affected.`, undo: undoOf('note', [note.number]) })}
        >
          Take back
        </button>
      )}
    </div>
  );
}

/** Tells that an issue is fixed, can be worked around, or was told by mistake. */
function IssueFixed({ issue }: { issue: Schemas['IssueView'] }) {
  const takeBack = useChange(() => api.DELETE('/api/known-issues', { params: { query: { id: issue.id } } }), 'Not taken back');
  const tell = useChange(
    (state: 'FIXED' | 'WORKED_AROUND') =>
      body(
        api.POST('/api/known-issues', {
          body: {
            id: issue.id,
            updates: issue.updates,
            fixedBy: issue.fixedBy,
            words: issue.words,
            state,
            failureClass: issue.failureClass,
            where: issue.where,
          },
        }),
      ),
    'Not told',
  );
  return (
    <span className="noprint">
      <button type="button" className="plain link mid" onClick={() => tell.mutate('FIXED')}>
        Fixed
      </button>{' '}
      <button type="button" className="plain link mid" onClick={() => tell.mutate('WORKED_AROUND')}>
        Worked around
      </button>{' '}
      <button type="button" className="plain link mid" onClick={() => takeBack.mutate(undefined)}>
        Take back
      </button>
    </span>
  );
}
