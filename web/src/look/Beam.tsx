import type { Schemas } from '../api/client';
import { points } from '../words/weighing';

type Range = Schemas['Range'];

const DEGREES_A_UNIT = 2.5;
const STEEPEST = 5;

/**
 * The beam: hazard of installing hangs at the left, exposure of waiting at the right, and the heavier side sinks. The area of a disc grows with
 * the logarithm of its points, the angle is the tilt, the grey wedge its 90 % interval. What an update of its kind usually costs hangs on both
 * sides, drawn hollow: it is owed whether one waits or not.
 */
export function Beam({
  exposure,
  hazard,
  usual,
  tilt,
  width = 236,
}: {
  exposure: number;
  hazard: Range;
  usual: number;
  tilt: Range;
  width?: number;
}) {
  const height = 43;
  const numbers = 44;
  const pivot = { x: width / 2, y: 21 };
  const arm = width / 2 - numbers - 12;
  const end = (side: -1 | 1, units: number) => {
    const angle = (Math.max(-STEEPEST, Math.min(STEEPEST, units)) * DEGREES_A_UNIT * Math.PI) / 180;
    return { x: pivot.x + side * arm * Math.cos(angle), y: pivot.y + side * arm * Math.sin(angle) };
  };
  const left = end(-1, tilt.middle);
  const right = end(1, tilt.middle);
  const wedge = (side: -1 | 1) => {
    const low = end(side, tilt.low);
    const high = end(side, tilt.high);
    return `M${pivot.x} ${pivot.y}L${low.x} ${low.y}L${high.x} ${high.y}Z`;
  };
  const label = `Installing costs ${points(hazard.middle)} points, of which ${points(Math.min(usual, hazard.middle))} are usual; waiting ${points(exposure)}; ${leaning(tilt)}`;
  const beyond = Math.max(0, hazard.middle - usual);
  return (
    <svg className="beam" width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label}>
      <title>{label}</title>
      <path d={`M${pivot.x - arm} ${pivot.y}H${pivot.x + arm}`} stroke="var(--rule)" strokeDasharray="2 3" />
      <path d={wedge(-1)} fill="var(--rule)" />
      <path d={wedge(1)} fill="var(--rule)" />
      <path d={`M${left.x} ${left.y}L${right.x} ${right.y}`} stroke="var(--ink)" strokeWidth="1.6" />
      <path d={`M${pivot.x} ${pivot.y}l5 9h-10z`} fill="var(--ink)" />
      <circle cx={left.x} cy={left.y} r={radius(hazard.middle)} fill="var(--paper)" stroke="var(--violet)" />
      <circle cx={left.x} cy={left.y} r={radius(beyond)} fill="var(--violet)" />
      <circle cx={right.x} cy={right.y} r={radius(exposure + usual)} fill="var(--paper)" stroke="var(--ember)" />
      <circle cx={right.x} cy={right.y} r={radius(exposure)} fill="var(--ember)" />
      <text x={numbers - 8} y={pivot.y + 4} textAnchor="end" fill="var(--violet)">
        {points(hazard.middle)}
      </text>
      <text x={width - numbers + 8} y={pivot.y + 4} fill="var(--ember)">
        {points(exposure)}
      </text>
    </svg>
  );
}

/** No disc where there is next to nothing. */
function radius(value: number): number {
  return value < 0.005 ? 0 : Math.sqrt(7 + 26 * Math.log10(1 + value));
}

function leaning(tilt: Range): string {
  const how = tilt.middle >= 0.005 ? 'leans to installing' : tilt.middle <= -0.005 ? 'leans to waiting' : 'level';
  return `${how}, tilt ${tilt.middle.toFixed(2)}, likely ${tilt.low.toFixed(2)} to ${tilt.high.toFixed(2)}${[tilt.low, tilt.middle, tilt.high].some((one) => Math.abs(one) >= STEEPEST) ? ', cut at 5' : ''}`;
}
