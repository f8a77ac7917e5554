import type { Schemas } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { CarriageBar } from '../look/CarriageBar';
import { deliveredWords } from '../words/answers';
import { count, day, dayTime, lastDay } from '../words/dates';
import { cueWords, ratingWords, reasonWords } from '../words/sentences';
import { stateWords } from '../words/states';
import { percent, points, suggestionWord } from '../words/weighing';
import styles from './report.module.css';

type Sheet = Schemas['SheetView'];

/** The sentence as it was handed down. */
function sentence(sheet: Sheet, now: Date): string {
  const zone = sheet.timeZone;
  const end = lastDay(sheet.end, now, zone);
  const where = sheet.where === undefined ? '' : ` where ${sheet.where}`;
  const of = `${sheet.update.id} for ${sheet.populationName}${where}`;
  const how = deliveredWords(sheet.delivery);
  switch (sheet.type) {
    case 'BLOCK':
      return `Block ${of} until ${end}${how}`;
    case 'DEFER':
      return sheet.letGo ? `Let ${of} go now${how}` : `Defer ${of} until ${end}${how}`;
    case 'PILOT':
      return `Pilot ${of}, to answer by ${end}`;
    default:
      return `Force ${of}, due ${end}${how}`;
  }
}

export function SheetParts({ sheet, now }: { sheet: Sheet; now: Date }) {
  const why = reasonWords(sheet.reasons, sheet.words);
  return (
    <div className="page">
      <p className={styles.sentence}>
        {sentence(sheet, now)}
        {why === '' ? '.' : `, because ${why}.`}
      </p>
      <p className="mid">
        Handed down {dayTime(sheet.createdAt, now)} by {sheet.author}
        {sheet.approver !== undefined && `, approved by ${sheet.approver}`}, on revision {sheet.revision}.{' '}
        {sheet.takenBack === undefined ? (sheet.stands ? 'It stands.' : 'It has ended.') : `Taken back ${dayTime(sheet.takenBack, now)}.`}
      </p>
      {sheet.stood === undefined ? (
        <p className={styles.none} role="note">
          How the case stood and what was foreseen was not kept: it is older than these sheets, or it followed by itself from a pilot.
        </p>
      ) : (
        <div className={styles.parts}>
          <Stood stood={sheet.stood.stood} then={new Date(sheet.createdAt)} />
          <Foreseen foreseen={sheet.stood.foreseen} type={sheet.type} />
        </div>
      )}
      <Became sheet={sheet} />
      <section className={styles.then}>
        <h2>The record of {sheet.update.id} since</h2>
        {sheet.since.map((entry) => (
          <div className="entry" key={entry.number}>
            <time className="mid" dateTime={entry.at} title={entry.at}>
              {day(entry.at, now)}
            </time>
            <span>
              <span className="mid">{entry.author}: </span>
              {entry.sentence}
            </span>
          </div>
        ))}
      </section>
    </div>
  );
}

function Stood({ stood, then }: { stood: Schemas['CaseThen']; then: Date }) {
  const { weighed } = stood;
  return (
    <section>
      <h2>As the case stood</h2>
      <ul className={styles.plain}>
        <li>{ratingWords(stood.rating, stood.baseScore)}</li>
        {stood.cues.map((cue) => (
          <li key={`${cue.type} ${cue.about}`}>{cueWords(cue, then)}</li>
        ))}
        {stood.exploited.length > 0 && <li>Known to be exploited: {stood.exploited.join(', ')}.</li>}
        {stood.probability !== undefined && <li>Highest exploit probability {percent(stood.probability)}.</li>}
        <li>
          {stood.tried === 0 ? 'No host had tried it.' : `${count(stood.tried, 'host')} had tried it, ${stood.failed} of them failed.`}
        </li>
        {stood.issues.map((issue) => (
          <li key={issue.id}>
            Known issue {issue.id} ({issue.state}): {issue.words}
          </li>
        ))}
        {weighed !== undefined && (
          <li>
            Weighed for {count(weighed.lacking, 'host')} that lacked it: exposure {points(weighed.exposure)}, hazard{' '}
            {points(weighed.hazard.middle)} [{points(weighed.hazard.low)}, {points(weighed.hazard.high)}], usual {points(weighed.usual)}.
            The numbers spoke for: {suggestionWord(weighed.suggestion)}.
          </li>
        )}
      </ul>
    </section>
  );
}

function Foreseen({ foreseen, type }: { foreseen: Schemas['ForeseenThen']; type: Sheet['type'] }) {
  const lines = [
    `In force for ${count(foreseen.decided, 'host')}; ${foreseen.carrying} had it already.`,
    foreseen.claimed > 0 && `For ${count(foreseen.claimed, 'host')} that lacked it something else stayed in force.`,
    foreseen.unknown > 0 && `${count(foreseen.unknown, 'host')} of them had not been heard of lately.`,
    foreseen.otherSupply > 0 && `${count(foreseen.otherSupply, 'host')} of them took updates from elsewhere.`,
    foreseen.inBusyHours > 0 && `${count(foreseen.inBusyHours, 'host')} in busy hours, because it is due.`,
    foreseen.late > 0 && `${count(foreseen.late, 'host')} late.`,
    foreseen.dueLater > 0 && `${count(foreseen.dueLater, 'host')} due later, because they were away.`,
    foreseen.silent > 0 && `${count(foreseen.silent, 'host')} silent: nobody knew when they come back.`,
    foreseen.byOthers > 0 && `${count(foreseen.byOthers, 'host')} begun by a person or an operator.`,
    foreseen.notForeseen > 0 && `${count(foreseen.notForeseen, 'host')} for which no moment could be foreseen.`,
    ...foreseen.leftOpen.map(
      (open) => `${open.vulnerability} left open on ${count(open.hosts, 'host')}${open.contained ? ' (closed by what it contains)' : ''}.`,
    ),
    foreseen.hostDays > 0 && `${Math.round(foreseen.hostDays).toLocaleString('en-GB')} host-days until its end.`,
  ].filter((line): line is string => typeof line === 'string');
  return (
    <section>
      <h2>As it was foreseen</h2>
      <ul className={styles.plain}>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {type !== 'BLOCK' && foreseen.foresight.curve.length === 0 && <li>When hosts would have it was not foreseen.</li>}
      </ul>
    </section>
  );
}

function Became({ sheet }: { sheet: Sheet }) {
  const { became } = sheet;
  if (became === undefined) {
    return null;
  }
  return (
    <section className={styles.then}>
      <h2>What then happened</h2>
      <ul className={styles.plain}>
        <li>
          Of the {count(became.hosts, 'host')} that it was for: <CarriageBar counts={became.states} width={160} height={12} />{' '}
          {stateWords(became.states)}
          {became.gone > 0 && `, ${became.gone} retired`}.
        </li>
        {became.failedSince.count > 0 && (
          <li>
            It failed since on <HostNames hosts={became.failedSince} />.
          </li>
        )}
        {became.foreseen !== undefined && (
          <li className={became.forecastWrong ? styles.breach : undefined}>
            {became.have} have it; {became.foreseen} were foreseen to have it by now
            {became.forecastWrong ? ': the forecast was wrong.' : '.'}
          </li>
        )}
      </ul>
    </section>
  );
}
