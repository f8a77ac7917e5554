import { Link } from 'react-router';

const FACES = [
  ['/carriers', 'State on hosts'],
  ['/carriers?face=in-force', 'In force'],
  ['/carriers?face=changes', 'What changed'],
  ['/report/time-to-carry', 'Time to carry'],
  ['/report/exploited', 'Known exploited'],
  ['/report/withheld', 'Withheld, and why'],
  ['/report/forced', 'Forced, and how it went'],
] as const;

export type Face = (typeof FACES)[number][0];

/** What can be told of who carries what: from the hosts of the moment to what is reported to others. */
export function ReportFaces({ face, judges }: { face: Face; judges: boolean }) {
  return (
    <span className="choices">
      {FACES.filter(([to]) => judges || !to.startsWith('/report')).map(([to, words]) => (
        <Link key={to} to={to} aria-current={to === face}>
          {words}
        </Link>
      ))}
    </span>
  );
}
