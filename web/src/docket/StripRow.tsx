import { memo } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Beam } from '../look/Beam';
import { Mark } from '../look/Mark';
import { count } from '../words/dates';
import { decidedWords, kindWord, markOf, needsJudgement, ratingWords, ruleMatchWords, whyBrief, whyNow } from '../words/sentences';
import { briefSuggestion, points, suggestionWords } from '../words/weighing';

type Strip = Schemas['Strip'];

interface Props {
  strip: Strip;
  populations: Schemas['PopulationName'][];
  now: Date;
  current: boolean;
  chosen: boolean;
  /** New since this person last looked. */
  fresh: boolean;
  /** Characters that fit into the two lines of why now. */
  room: number;
  point: (id: string) => void;
}

/** One case. Drawn again only where something of it changed, so that a key moves the bar at once however many there are. */
export const StripRow = memo(function StripRow({ strip, populations, now, current, chosen, fresh, room, point }: Props) {
  const zoneless = (population: string) => populations.find((p) => p.id === population)?.name ?? population;
  return (
    <tr
      className={`strip${current ? ' current' : ''}${chosen ? ' chosen' : ''}${strip.groupedWith === undefined ? '' : ' grouped'}`}
      aria-current={current}
      tabIndex={current ? 0 : -1}
      onClick={() => point(strip.id)}
    >
      <td>
        <div className="title">
          {fresh && <span className="fresh" role="img" aria-label="New since you last looked" title="New since you last looked" />}
          <Link className="name" to={`/cases/${encodeURIComponent(strip.id)}`} title={strip.title}>
            {strip.title}
          </Link>
          {chosen && <span className="strong">chosen</span>}
          <span className="mid nowrap">
            {strip.id} · {kindWord(strip.kind)} ·{' '}
            <span className={strip.rating === 'CRITICAL' || strip.rating === 'HIGH' ? 'strong' : ''}>
              {ratingWords(strip.rating, strip.baseScore)}
            </span>
            {strip.freshness > 1 && (
              <span
                title={`Its newest cue is younger than ${strip.freshness === 4 ? 'a day' : 'three days'}: what is at stake counts ${strip.freshness} times`}
              >
                {' '}
                · ×{strip.freshness}
              </span>
            )}
            {strip.assignees.length > 0 && ` · for ${strip.assignees.join(', ')}`}
          </span>
        </div>
        <div className="why" title={needsJudgement(strip) ? whyNow(strip, now) : undefined}>
          {needsJudgement(strip) ? whyBrief(strip, now, room) : answeredWords(strip, now)}
        </div>
      </td>
      <td className="beamcell">
        {strip.beam.exposure > 0 || strip.beam.hazard.middle > 0 ? (
          <Beam exposure={strip.beam.exposure} hazard={strip.beam.hazard} usual={strip.beam.usual} tilt={strip.beam.tilt} />
        ) : (
          strip.notAffected > 0 && (
            <span className="suggests">
              {strip.notAffected === strip.lacking ? 'none of ' : `${strip.notAffected} of `}
              {count(strip.lacking, 'host')} {strip.notAffected === strip.lacking ? 'is affected' : 'not affected'}: nothing to weigh
            </span>
          )
        )}
        {strip.lacking === 0 && strip.cues.some((cue) => cue.type === 'PRODUCTS_NOT_READ') && (
          <span className="suggests">products not read: nothing can be weighed</span>
        )}
        {strip.beam.suggestion !== undefined && (
          <span className="suggests" title={suggestionFor(strip, populations)}>
            suggests: <b>{briefSuggestion(strip.beam.suggestion)}</b>
            {strip.beam.others > 0 && `, and ${strip.beam.others} ${strip.beam.others === 1 ? 'other differs' : 'others differ'}`}
          </span>
        )}
      </td>
      <td className="marks">
        {strip.marks.map((mark) => (
          <span className="cell" key={mark.population}>
            {mark.holds && mark.lacking > 0 && (
              <>
                <Mark
                  name={markOf(mark.holds)}
                  label={`${zoneless(mark.population)}: ${ruleMatchWords(mark.holds, now)}${mark.differently > 0 ? `; otherwise for ${mark.differently} of them` : ''}`}
                />
                <span className="count">
                  {mark.lacking}
                  {mark.differently > 0 && '*'}
                </span>
              </>
            )}
          </span>
        ))}
      </td>
    </tr>
  );
});

function suggestionFor(strip: Strip, populations: Schemas['PopulationName'][]): string {
  const name = populations.find((p) => p.id === strip.beam.population)?.name ?? 'hosts in no population';
  const suggestion = strip.beam.suggestion === undefined ? '' : ` (${suggestionWords(strip.beam.suggestion)})`;
  return `What the numbers speak for on ${name}, where most is at stake${suggestion}. Stands here by ${points(strip.worth)} points: what waiting costs or what installing costs beyond the usual, plus 1${strip.freshness > 1 ? `, times ${strip.freshness} for a fresh cue` : ''}.`;
}

function answeredWords(strip: Strip, now: Date): string {
  if (strip.foldedUnder !== undefined) {
    return `Stands under ${strip.foldedUnder}, which is released for the same hosts and brings it; ${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it.`;
  }
  if (strip.lacking === 0) {
    return strip.carrying === 0 ? 'No host that reports has what it is for.' : 'Every host that it is for carries it.';
  }
  const decided = strip.decided.map((one) => decidedWords(one, now)).join(' ');
  return `${count(strip.lacking, 'host')} ${strip.lacking === 1 ? 'lacks' : 'lack'} it. ${decided === '' ? 'Answered.' : decided}`;
}
