import type { MarkName } from '../words/sentences';

const WORDS: Record<MarkName, string> = {
  BLOCK: 'blocked',
  DEFER: 'deferred',
  PILOT: 'pilot',
  FORCE: 'forced',
  RULE: 'offered by the standing rule',
  RULE_WAITS: 'withheld by the standing rule',
  EXCEPTION: 'exception',
  FREEZE: 'frozen',
};

/**
 * The marks: a dot (the update) and its gate. Block: before a solid gate. Defer: before a dashed one. Pilot: before an open one, a small dot
 * already through. Force: past the gate, with the line it came by. A faint point: the standing rule, hollow while it still
 * withholds. A broken ring around the point: an exception. Between two gates: frozen. One colour, good at 16 px.
 */
export function Mark({ name, size = 16, label }: { name: MarkName; size?: number; label?: string }) {
  const title = label ?? WORDS[name];
  return (
    <svg className="mark" width={size} height={size} viewBox="0 0 16 16" fill="none" stroke="currentColor" role="img" aria-label={title}>
      <title>{title}</title>
      {drawing(name)}
    </svg>
  );
}

function drawing(name: MarkName) {
  switch (name) {
    case 'BLOCK':
      return (
        <>
          <path d="M10.5 1.5V14.5" strokeWidth="3" />
          <circle cx="4.2" cy="8" r="2.7" stroke="none" fill="currentColor" />
        </>
      );
    case 'DEFER':
      return (
        <>
          <path d="M10.5 1.5V14.5" strokeWidth="2" strokeDasharray="2.6 2.4" />
          <circle cx="4.2" cy="8" r="2.7" stroke="none" fill="currentColor" />
        </>
      );
    case 'PILOT':
      return (
        <>
          <path d="M8 1.5V5.6M8 10.4V14.5" strokeWidth="2" />
          <circle cx="3.4" cy="8" r="2.7" stroke="none" fill="currentColor" />
          <circle cx="12.8" cy="8" r="1.7" stroke="none" fill="currentColor" />
        </>
      );
    case 'FORCE':
      return (
        <>
          <path d="M6 1.5V14.5" strokeWidth="2" />
          <path d="M0.5 8H10" strokeWidth="1.6" />
          <circle cx="12.2" cy="8" r="2.7" stroke="none" fill="currentColor" />
        </>
      );
    case 'EXCEPTION':
      return (
        <>
          <circle cx="8" cy="8" r="4.6" strokeWidth="1.4" strokeDasharray="2.4 2" />
          <circle cx="8" cy="8" r="1.6" stroke="none" fill="currentColor" />
        </>
      );
    case 'FREEZE':
      return (
        <>
          <path d="M2.6 1.5V14.5M13.4 1.5V14.5" strokeWidth="2" />
          <circle cx="8" cy="8" r="2.7" stroke="none" fill="currentColor" />
        </>
      );
    case 'RULE_WAITS':
      return <circle cx="8" cy="8" r="2" strokeWidth="1.1" opacity=".75" />;
    default:
      return <circle cx="8" cy="8" r="2.1" stroke="none" fill="currentColor" opacity=".7" />;
  }
}
