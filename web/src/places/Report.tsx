import { Navigate, useParams } from 'react-router';
import { type Face, ReportFaces } from '../carriers/ReportFaces';
import { Heading } from '../frame/Heading';
import { Exploited } from '../report/Exploited';
import { Forced } from '../report/Forced';
import { TimeToCarry } from '../report/TimeToCarry';
import { Withheld } from '../report/Withheld';

const FACES = {
  'time-to-carry': { heading: 'How long hosts wait', face: <TimeToCarry /> },
  exploited: { heading: 'Known to be exploited', face: <Exploited /> },
  withheld: { heading: 'Withheld, and why', face: <Withheld /> },
  forced: { heading: 'Forced, and how it went', face: <Forced /> },
};

/** What is told to others about the fleet and about what was decided. */
export default function Report() {
  const { face } = useParams();
  const shown = FACES[face as keyof typeof FACES];
  if (shown === undefined) {
    return <Navigate to="/report/time-to-carry" replace />;
  }
  return (
    <main>
      <div className="head">
        <Heading>{shown.heading}</Heading>
        <ReportFaces face={`/report/${face}` as Face} judges />
        <span className="space" />
        <button type="button" className="plain link noprint" onClick={() => window.print()}>
          Print
        </button>
      </div>
      {shown.face}
    </main>
  );
}
