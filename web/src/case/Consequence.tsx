import type { Schemas } from '../api/client';
import type { VerdictType } from '../decisions/useVerdictDraft';
import { HostNames } from '../frame/HostNames';
import { count, day, dayTime, lastDay, time } from '../words/dates';
import { fewThereWords } from '../words/holidays';
import { PREVENTED } from '../words/prevented';
import { ruleMatchWords } from '../words/sentences';
import { Forecast } from './Forecast';

type Worded = Schemas['WordedView'];

/** What the sentence would do, host by host, in plain lines with names. */
export function Consequence({
  page,
  worded,
  type,
  letGo,
  now,
}: {
  page: Schemas['CaseView'];
  worded: Worded[] | undefined;
  type: VerdictType;
  letGo: boolean;
  now: Date;
}) {
  if (!worded) {
    return <div className="consequence mid">Reading what it would do …</div>;
  }
  return (
    <div className="consequence" aria-live="polite">
      {worded.map((one) => (
        <OfPopulation key={one.population} one={one} several={worded.length > 1} page={page} type={type} letGo={letGo} now={now} />
      ))}
      <LeftOpen worded={worded} page={page} now={now} />
      {type === 'BLOCK' && page.update.supersededBy.length > 0 && (
        <div>
          This says nothing about {page.update.supersededBy.join(', ')}, which{' '}
          {page.update.supersededBy.length === 1 ? 'supersedes' : 'supersede'} it and may bring the same change.
        </div>
      )}
    </div>
  );
}

function OfPopulation({
  one,
  several,
  page,
  type,
  letGo,
  now,
}: {
  one: Worded;
  several: boolean;
  page: Schemas['CaseView'];
  type: VerdictType;
  letGo: boolean;
  now: Date;
}) {
  const { consequence } = one;
  const zone = page.populations.find((row) => row.id === one.population)?.timeZone ?? 'Z';
  const end = lastDay(one.end, now, zone);
  const [first] = one.parts;
  const what = letGo
    ? 'offered from now on'
    : first !== undefined
      ? `${type === 'FORCE' ? 'due' : 'offered'} in ${one.parts.length} parts, the last ${type === 'FORCE' ? 'by the end of' : 'after'} ${end}`
      : type === 'FORCE'
        ? `offered now, due ${time(one.end, zone) === '00:00' ? `by the end of ${end}` : dayTime(one.end, now, zone)}`
        : type === 'PILOT'
          ? `offered now and try it first, the others wait until the end of ${end} at most`
          : type === 'BLOCK'
            ? `withheld until the end of ${end}`
            : `withheld until the end of ${end}, then offered`;
  const sampled = one.pilot?.sample.filter((host) => host.population === one.population).length;
  return (
    <>
      <div>
        {several && <span className="serif strong">{one.populationName}: </span>}
        <span className="strong">
          {sampled === undefined ? count(consequence.decided.count, 'host') : `${sampled} of ${count(consequence.decided.count, 'host')}`}
        </span>{' '}
        {what}
        {one.ruleDue !== undefined && `, due by the rule ${dayTime(one.ruleDue, now, zone)}`}
        {type === 'DEFER' &&
          one.fewThere !== undefined &&
          `; that begins on ${fewThereWords(one.fewThere, letGo ? now : (first?.at ?? one.end), zone)}`}{' '}
        {sampled === undefined && <HostNames hosts={consequence.decided} />}
        {consequence.named === 0 && <span className="mid">no host there matches the narrowing</span>}
      </div>
      {one.forecast !== undefined && consequence.decided.count > 0 && (
        <Forecast
          forecast={one.forecast}
          hosts={sampled ?? consequence.decided.count}
          due={type === 'FORCE' ? one.end : undefined}
          restart={page.update.restart}
          now={now}
          zone={zone}
          prevented={one.prevented.length > 0}
        />
      )}
      {one.expectedAnswer !== undefined && <ExpectedAnswer one={one} expected={one.expectedAnswer} now={now} zone={zone} />}
      {one.tooLate.count > 0 && (
        <div>
          Too late to stop: <span className="strong">{count(one.tooLate.count, 'host')}</span> {one.tooLate.count === 1 ? 'has' : 'have'}{' '}
          downloaded it and may install it all the same <HostNames hosts={one.tooLate} />
        </div>
      )}
      {one.notOnSources.count > 0 && (
        <div>
          Not yet on their sources: <span className="strong">{count(one.notOnSources.count, 'host')}</span>, which can install it only once
          it is there <HostNames hosts={one.notOnSources} />
        </div>
      )}
      {one.prevented.map(({ why, hosts }) => (
        <div key={why}>
          Would wait now: <span className="strong">{count(hosts.count, 'host')}</span> {PREVENTED[why]}, as last told{' '}
          <HostNames hosts={hosts} />
        </div>
      ))}
      {one.broughtForward.map((group) => (
        <div key={JSON.stringify(group.match)}>
          Brought forward: <span className="strong">{count(group.hosts.count, 'host')}</span>{' '}
          {group.match.end === undefined
            ? 'to which the rule never offers it without a verdict'
            : `to which the rule would offer it only after ${lastDay(group.match.end, now, zone)}`}{' '}
          <HostNames hosts={group.hosts} />
        </div>
      ))}
      {consequence.claimed.map((claim) => (
        <div key={JSON.stringify(claim.match)}>
          <span className="strong">{count(claim.hosts.count, 'host')}</span> not reached: still {ruleMatchWords(claim.match, now, zone)}{' '}
          <HostNames hosts={claim.hosts} />
        </div>
      ))}
      <div className="joined">
        {consequence.before.map((before) => (
          <div key={JSON.stringify(before.match)} className="mid">
            {before.hosts.count < consequence.decided.count
              ? `${before.hosts.count} of them`
              : before.hosts.count === 1
                ? 'It is'
                : 'They are'}{' '}
            now {ruleMatchWords(before.match, now, zone)}
          </div>
        ))}
        {consequence.unknown.count > 0 && (
          <div>
            {consequence.unknown.count} of them not heard from lately, judged by {consequence.unknown.count === 1 ? 'its' : 'their'} last
            report <HostNames hosts={consequence.unknown} />
          </div>
        )}
        {consequence.otherSupply.count > 0 && (
          <div>
            {count(consequence.otherSupply.count, 'host')} of them {consequence.otherSupply.count === 1 ? 'takes' : 'take'} updates from
            elsewhere than the population should; this may not reach {consequence.otherSupply.count === 1 ? 'it' : 'them'}{' '}
            <HostNames hosts={consequence.otherSupply} />
          </div>
        )}
        {one.removal !== undefined && <Removal removal={one.removal} now={now} />}
        {one.removal === undefined && consequence.carrying.count > 0 && (
          <div className="mid">
            {count(consequence.carrying.count, 'host')} {consequence.carrying.count === 1 ? 'carries' : 'carry'} it already;{' '}
            {type === 'FORCE' ? 'nothing to do there' : 'this does not remove it'} <HostNames hosts={consequence.carrying} />
          </div>
        )}
      </div>
    </>
  );
}

/** Whether a pilot will have answered in time, and on a day on which somebody is there to go on. */
function ExpectedAnswer({ one, expected, now, zone }: { one: Worded; expected: string; now: Date; zone: string }) {
  return (
    <div>
      The sample will have answered about {dayTime(expected, now, zone)}, if it goes as foreseen
      {one.slack === 'NONE' && <span className="strong">: after the answer day</span>}
      {one.slack === 'UNDER_A_WORKING_DAY' && <span className="strong">: less than a working day before the others go on</span>}
      {one.fewThere !== undefined && `; the answer day is ${fewThereWords(one.fewThere, new Date(Date.parse(one.end) - 1), zone)}`}.
    </div>
  );
}

/** What stays open while it is withheld: of the update itself, and of what it contains. */
function LeftOpen({ worded, page, now }: { worded: Worded[]; page: Schemas['CaseView']; now: Date }) {
  const open = worded.flatMap((one) => one.leftOpen ?? []);
  const hosts = new Map<string, { contained: boolean; hosts: number }>();
  for (const one of open.flatMap((left) => left.vulnerabilities)) {
    hosts.set(one.id, { contained: one.contained, hosts: (hosts.get(one.id)?.hosts ?? 0) + one.hosts });
  }
  const words = (contained: boolean) =>
    [...hosts]
      .filter(([, of]) => of.contained === contained && of.hosts > 0)
      .map(([id, of]) => `${id} on ${count(of.hosts, 'host')}`)
      .join(', ');
  const own = words(false);
  const contained = words(true);
  const days = Math.round(open.reduce((sum, left) => sum + left.hostDays, 0));
  // The next release of its kind may come before this ends.
  const next = worded.find((one) => one.overtaken !== undefined)?.overtaken;
  return own === '' && contained === '' && next === undefined ? null : (
    <div>
      {(own !== '' || contained !== '') && (
        <>
          Stays open, <span className="strong">{count(days, 'host-day')}</span> in all: {own || 'nothing of its own'}
          {contained !== '' && `; of what it contains ${contained}`}.{' '}
        </>
      )}
      {next !== undefined && `The next from ${page.update.vendor} is to be expected about ${day(next, now)}, before this ends.`}
    </div>
  );
}

/** From where it is to be removed, with the last day on which each host can. */
function Removal({ removal, now }: { removal: NonNullable<Worded['removal']>; now: Date }) {
  return removal.hosts.count === 0 ? (
    <div className="mid">No host carries it: nothing to remove.</div>
  ) : (
    <>
      <div>
        To be removed from <span className="strong">{count(removal.hosts.count, 'host')}</span>; what{' '}
        {removal.earlier === removal.hosts.count ? 'they had' : `${removal.earlier} of them had`} before is known{' '}
        <HostNames hosts={removal.hosts} />
      </div>
      {removal.lastDays.map((of) => (
        <div key={of.day}>
          until the end of {day(`${of.day}T00:00:00Z`, now)}: <span className="strong">{count(of.hosts.count, 'host')}</span> can{' '}
          <HostNames hosts={of.hosts} />
        </div>
      ))}
      {removal.tooLate.count > 0 && (
        <div>
          <span className="strong">{count(removal.tooLate.count, 'host')}</span> can remove it no longer{' '}
          <HostNames hosts={removal.tooLate} />
        </div>
      )}
      {removal.unknown.count > 0 && (
        <div>
          <span className="strong">{count(removal.unknown.count, 'host')}</span>: nobody tells until when it can be removed there{' '}
          <HostNames hosts={removal.unknown} />
        </div>
      )}
    </>
  );
}
