import type { ReactNode } from 'react';
import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { Beam } from '../look/Beam';
import { count, day } from '../words/dates';
import { classWord, inHosts, percent, points } from '../words/weighing';

type Weighing = Schemas['WeighingView'];
type Cell = Schemas['CellView'];
type Vulnerability = Schemas['VulnerabilityView'];

/** A beam for each part of the population, where suspected causes part it. */
export function CellBeams({ weighing }: { weighing: Weighing }) {
  const cells = weighing.cells.filter((cell) => cell.lacking > 0);
  if (cells.length < 2) {
    return null;
  }
  return cells.map((cell) => (
    <div key={cell.where ?? 'rest'} className="cellbeam">
      <span className="mid">
        {cell.where === undefined ? 'the rest' : `where ${cell.where}`}: {count(cell.lacking, 'host')}
      </span>
      <Beam exposure={cell.exposure} hazard={cell.hazard} tilt={cell.tilt} width={228} />
      <span>
        {cell.failed} of {cell.tried} failed
      </span>
    </div>
  ));
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
        <section key={cell.where ?? 'rest'} aria-label={several ? (cell.where ?? 'the rest') : 'Factors'}>
          {several && <h3>{cell.where === undefined ? 'The rest' : `Where ${cell.where}`}</h3>}
          <OfExposure cell={cell} evidence={evidence} now={now} />
          <OfHazard cell={cell} evidence={evidence} />
        </section>
      ))}
      <p>
        Together: <span className="ember">waiting costs {points(weighing.exposure)}</span>, {inHosts(weighing.exposure, weights)}
        {weighing.exposureUnknown > 0 && ` (${points(weighing.exposureUnknown)} of it by last known states)`};{' '}
        <span className="violet">installing costs {points(weighing.hazard.middle)}</span> ({points(weighing.hazard.low)} to{' '}
        {points(weighing.hazard.high)}), {inHosts(weighing.hazard.middle, weights)}. Tilt ln(({number(weighing.exposure)} + 0.01) / (
        {number(weighing.hazard.middle)} + 0.01)) = {weighing.tilt.middle.toFixed(2)}, likely {weighing.tilt.low.toFixed(2)} to{' '}
        {weighing.tilt.high.toFixed(2)}.
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
  const { usualMean, usualTries, usualFailures } = evidence.tries;
  const prior = cell.where === undefined ? `20 × ${number(usualMean)}` : '0.5';
  const strength = cell.where === undefined ? '20' : '1';
  const outside = cell.outside > 0 ? ` + ${cell.outside} (elsewhere)` : '';
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
        q = ({prior} + {cell.failed} failed{outside}) / ({strength} + {cell.tried} tried{outside}) = {percent(cell.rate.middle)}, likely{' '}
        {percent(cell.rate.low)} to {percent(cell.rate.high)}
      </Line>
      {cell.where === undefined && (
        <Line>
          <Term name="baseline rate">baseline rate</Term>: ({usualFailures} + 1) / ({usualTries.toLocaleString('en-GB')} + 100) ={' '}
          {number(usualMean)}
          {!evidence.removable && '; it can no longer be removed: harm × 1.5'}
        </Line>
      )}
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
