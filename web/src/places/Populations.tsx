import type { Schemas } from '../api/client';
import { usePopulations } from '../api/queries';
import { HostNames } from '../frame/HostNames';
import { Failed, Loading } from '../frame/Loading';
import { count } from '../words/dates';
import { ratingWords } from '../words/sentences';

type Rule = Schemas['RuleView'];

const TIERS = ['', 'costliest to lose', 'costly to lose', 'less costly to lose', 'easiest to spare'];

/** The ladder, as sentences. */
export default function Populations() {
  const ladder = usePopulations();
  if (ladder.isError) {
    return <Failed what="The populations" error={ladder.error} again={ladder.refetch} />;
  }
  if (!ladder.data) {
    return <Loading what="the populations" />;
  }
  const { populations, inNoPopulation, fleetRule } = ladder.data;
  return (
    <main>
      <div className="head">
        <h1>The ladder of populations</h1>
        <span className="mid">The first that matches owns a host, so each host is in exactly one, or in none.</span>
      </div>
      <div className="page">
        {populations.length === 0 && (
          <p className="empty">
            <strong>No populations yet.</strong>They come in as one document of the format populations-1 (its schema is at
            /api/schemas/populations-1), on the page Intake or through the API. Until then the fleet's rule holds for every host.
          </p>
        )}
        {populations.map((p, index) => (
          <section className="population" key={p.id}>
            <span className="serif strong mid" style={{ fontSize: 17 }}>
              {index + 1}
            </span>
            <div className="prose">
              <h2 style={{ fontSize: 17 }}>{p.name}</h2>
              <p>
                {count(p.hosts, 'host')} where <b>{p.predicate}</b>
                {p.includes.length > 0 && `, and ${p.includes.join(', ')}`}
                {p.excludes.length > 0 && `, but not ${p.excludes.join(', ')}`}.
                {p.protectedHosts.length > 0 &&
                  ` ${p.protectedHosts.join(', ')} ${p.protectedHosts.length === 1 ? 'is' : 'are'} protected and never drawn into a sample.`}
              </p>
              <p>{ruleWords(p.rule)}</p>
              {p.overlaps.count > 0 && (
                <p className="mid">
                  {count(p.overlaps.count, 'host')} {p.overlaps.count === 1 ? 'matches' : 'match'} a population further down too:{' '}
                  <HostNames hosts={p.overlaps} />
                </p>
              )}
            </div>
            <dl className="facts" style={{ alignContent: 'start' }}>
              <dt>Tier</dt>
              <dd>
                {p.tier}, {TIERS[p.tier]}
              </dd>
              <dt>Owner</dt>
              <dd>{p.owner === '' ? 'nobody named' : p.owner}</dd>
              <dt>Time zone</dt>
              <dd>{p.timeZone === 'Z' ? 'UTC' : p.timeZone}</dd>
              <dt>Reports</dt>
              <dd>every {count(p.checkInHours, 'hour')}</dd>
              <dt>Unknown</dt>
              <dd>{count(p.unknown, 'host')}</dd>
            </dl>
          </section>
        ))}
        <section className="population">
          <span />
          <div className="prose">
            <h2 style={{ fontSize: 17 }}>In no population</h2>
            <p>
              {count(inNoPopulation.count, 'host')}
              {inNoPopulation.count > 0 && (
                <>
                  : <HostNames hosts={inNoPopulation} most={8} />
                </>
              )}
              .
            </p>
            <p>{ruleWords(fleetRule)}</p>
          </div>
          <span className="mid">The fleet's rule</span>
        </section>
      </div>
    </main>
  );
}

/** "A security update rated Critical or High is offered 7 days after publication; every other one after 14 days." */
export function ruleWords(rule: Rule): string {
  const after = (days: number | undefined) =>
    days === undefined
      ? 'is never offered without a verdict'
      : days === 0
        ? 'is offered at once'
        : `is offered ${count(days, 'day')} after publication`;
  const list = (words: string[]) => words.join(' or ');
  const lines = rule.lines.map((line) => {
    const kind = line.kinds.length === 0 ? 'update' : `${list(line.kinds.map((k) => k.toLowerCase()))} update`;
    const rated = line.ratings.length === 0 ? '' : ` rated ${list(line.ratings.map((r) => ratingWords(r)))}`;
    const article = /^[aeiou]/.test(kind) ? 'an' : 'a';
    return `${article} ${kind}${rated} ${after(line.delayDays)}`;
  });
  const sentence = [...lines, `${lines.length === 0 ? 'an update' : 'every other one'} ${after(rule.otherwiseDays)}`].join('; ');
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
}
