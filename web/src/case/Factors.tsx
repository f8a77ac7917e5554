import type { ReactNode } from 'react';
import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { Beam } from '../look/Beam';
import { count, day } from '../words/dates';
import { classWord, inHosts, percent, points, sharedWords } from '../words/weighing';

type Weighing = Schemas['WeighingView'];
type Cell = Schemas['CellView'];
type Vulnerability = Schemas['VulnerabilityView'];

/** A beam for each part of the population, where suspected causes part it. */
export function CellBeams({ weighing, now }: { weighing: Weighing; now: Date }) {
  const cells = weighing.cells.filter((cell) => cell.lacking > 0);
  if (cells.length < 2) {
    return null;
  }
  return cells.map((cell) => (
    <div key={cellWords(cell, now)} className="cellbeam">
      <span className="mid">
        {cellWords(cell, now)}: {count(cell.lacking, 'host')}
      </span>
      <Beam exposure={cell.exposure} hazard={cell.hazard} usual={cell.usual} tilt={cell.tilt} width={228} />
      <span>
        {cell.failed} of {cell.tried} failed
      </span>
    </div>
  ));
}

/** "where reader = R2", "the rest", "libtls on deb: the rest": which hosts of a population a cell has. */
function cellWords(cell: Cell, now: Date): string {
  const products = cell.products.length === 0 ? '' : `${cell.products.join(', ')}: `;
  const { shared } = cell;
  return `${products}${shared === undefined ? 'the rest' : `${shared.where === undefined ? '' : 'where '}${sharedWords(shared, now)}`}`;
}

/** Everything that the numbers of a population are made of, so that each can be worked out by hand. */
export function Factors({
  weighing,
  evidence,
  weights,
  now,
}: {
  weighing: Weighing;
  evidence: Schemas['EvidenceView'];
  weights: number[];
  now: Date;
}) {
  const several = weighing.cells.filter((cell) => cell.lacking > 0 || cell.restartOutstanding > 0).length > 1;
  return (
    <div className="factors">
      {weighing.cells.map((cell) => (
        <section key={cellWords(cell, now)} aria-label={several ? cellWords(cell, now) : 'Factors'}>
          {several && <h3>{cellWords(cell, now)}</h3>}
          <OfExposure cell={cell} evidence={evidence} now={now} />
          <OfHazard cell={cell} evidence={evidence} />
        </section>
      ))}
      <p>
        Together: <span className="ember">waiting costs {points(weighing.exposure)}</span>, {inHosts(weighing.exposure, weights)}
        {weighing.exposureUnknown > 0 && ` (${points(weighing.exposureUnknown)} of it by last known states)`};{' '}
        <span className="violet">installing costs {points(weighing.hazard.middle)}</span> ({points(weighing.hazard.low)} to{' '}
        {points(weighing.hazard.high)}), {inHosts(weighing.hazard.middle, weights)}. An update of its kind{' '}
        <Term name="usual cost">usually costs {points(weighing.usual)}</Term> here. Tilt ln(({number(weighing.exposure)} +{' '}
        {number(weighing.usual)} + 0.01) / ({number(weighing.hazard.middle)} + 0.01)) = {weighing.tilt.middle.toFixed(2)}, likely{' '}
        {weighing.tilt.low.toFixed(2)} to {weighing.tilt.high.toFixed(2)}
        {[weighing.tilt.low, weighing.tilt.middle, weighing.tilt.high].some((tilt) => Math.abs(tilt) >= 5) && ', cut at 5'}.
      </p>
    </div>
  );
}

function OfExposure({ cell, evidence, now }: { cell: Cell; evidence: Schemas['EvidenceView']; now: Date }) {
  return (
    <div>
      <b className="ember">Waiting</b>
      {cell.exposureFactors.length === 0 && (
        <Line sum="0">{evidence.vulnerabilities.length === 0 ? 'no security content' : 'no host on which a vulnerability matters'}</Line>
      )}
      {cell.exposureFactors.map((factor) => (
        <Line key={`${factor.facing} ${factor.vulnerability}`} sum={points(factor.points)}>
          {count(factor.hosts, 'host')} × weight {factor.weight} × openness {factor.openness} ({factor.facing.toLowerCase()}) × risk{' '}
          {number(factor.risk)}
          {factor.hitShare !== 1 && ` × hit share ${factor.hitShare}`}
          {factor.unknown > 0 && <span className="mid">, {factor.unknown} by last known state</span>}
        </Line>
      ))}
      {[...new Set(cell.exposureFactors.map((factor) => factor.vulnerability))].map((id) => {
        const vulnerability = evidence.vulnerabilities.find((w) => w.id === id);
        return vulnerability && <Line key={id}>{riskWords(vulnerability, now)}</Line>;
      })}
      {cell.notAffected > 0 && <Line sum="0">{count(cell.notAffected, 'host')} that are not affected</Line>}
      {cell.restartOutstanding > 0 && (
        <Line>{count(cell.restartOutstanding, 'of these hosts', 'of these hosts')} only to be restarted</Line>
      )}
    </div>
  );
}

/** "risk of CVE-…: likelihood 0.031 (exploit probability since Tue 24 Nov) × vector 0.5 (local) × base 7.4 / 10 = 0.0115". */
export function riskWords(vulnerability: Vulnerability, now: Date): string {
  const last = vulnerability.scores[vulnerability.scores.length - 1];
  const from =
    vulnerability.from === 'KNOWN_EXPLOITED'
      ? 'known to be exploited'
      : vulnerability.from === 'PROBABILITY' && last !== undefined
        ? `exploit probability since ${day(last.scored, now)}`
        : 'by rating, not scored';
  const of = [vulnerability.id, vulnerability.closedBy && `in ${vulnerability.closedBy}`].filter(Boolean).join(' ');
  return `risk${of === '' ? '' : ` of ${of}`}: likelihood ${vulnerability.likelihood} (${from}) × vector ${vulnerability.vectorFactor} (${vulnerability.vector.toLowerCase()}) × base ${vulnerability.base}${vulnerability.baseGiven ? '' : ' (not given)'} / 10 = ${number(vulnerability.risk)}`;
}

function OfHazard({ cell, evidence }: { cell: Cell; evidence: Schemas['EvidenceView'] }) {
  const { usualRate, usualTries, usualFailures } = evidence.tries;
  const { sound, flawed, bad } = cell.sorts;
  const outside = cell.outside > 0 ? ` and ${number(cell.outside)} told elsewhere` : '';
  return (
    <div>
      <b className="violet">Installing</b>
      {cell.hazardFactors.length === 0 && <Line sum="0">no host lacks it here</Line>}
      {cell.hazardFactors.map((factor) => (
        <Line key={`${factor.named} ${factor.vague}`} sum={points(factor.points)}>
          {count(factor.hosts, 'host')} × weight {factor.weight} ×{' '}
          {factor.byIssue > factor.byRate
            ? `${number(factor.byIssue)} (known issue, ${classWord(factor.named ?? factor.vague ?? 'DEGRADED')}${factor.named === undefined ? ', names no hosts' : ', names these hosts'})`
            : `q ${number(cell.rate.middle)} × harm ${number(cell.harm)}`}
        </Line>
      ))}
      <Line>
        <Term name="failure rate">q</Term> after {cell.failed} of {cell.tried} failed{outside}: {percent(sound.share)} sound ×{' '}
        {percent(sound.rate)} + {percent(flawed.share)} flawed × {percent(flawed.rate)} + {percent(bad.share)} bad × {percent(bad.rate)} ={' '}
        {percent(cell.rate.middle)}, likely {percent(cell.rate.low)} to {percent(cell.rate.high)}
      </Line>
      <Line>
        <Term name="baseline rate">baseline rate</Term> {percent(usualRate)}
        {usualTries < 100
          ? `, as only ${count(usualTries, 'install')} of its kind ${usualTries === 1 ? 'was' : 'were'} tried in a year`
          : `: ${usualFailures.toLocaleString('en-GB')} of ${usualTries.toLocaleString('en-GB')} installs of its kind failed in a year`}
        {!evidence.removable && '; it cannot be removed, or no longer: harm × 1.5'}
      </Line>
    </div>
  );
}

function Line({ sum, children }: { sum?: string; children: ReactNode }) {
  return (
    <div className="factor">
      <span>{children}</span>
      <span className="strong">{sum !== undefined && `= ${sum}`}</span>
    </div>
  );
}

/** As many digits as a pocket calculator needs. */
function number(value: number): string {
  return value === 0 ? '0' : String(Number(value.toPrecision(4)));
}
