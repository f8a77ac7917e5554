import { Component, type ReactNode } from 'react';

interface Props {
  /** What is missing when it cannot be drawn: "This place", "KI-7". */
  what: string;
  children: ReactNode;
  /** How the fault is shown; none: as a page that says what to do. */
  fallback?: (what: string, error: Error) => ReactNode;
}

/** Keeps a fault in drawing to what could not be drawn: a white page tells nobody what to do. */
export class Boundary extends Component<Props, { error?: Error }> {
  override state: { error?: Error } = {};

  static getDerivedStateFromError(error: unknown) {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  override render() {
    const { error } = this.state;
    if (error === undefined) {
      return this.props.children;
    }
    return this.props.fallback ? this.props.fallback(this.props.what, error) : <PageFault what={this.props.what} error={error} />;
  }
}

function PageFault({ what, error }: { what: string; error: Error }) {
  return (
    <main className="empty" role="alert">
      <strong>{what} cannot be drawn.</strong>
      The server has answered, but this page does not know how to show it. Nothing was changed, and what you have worded is kept in this
      tab.{' '}
      <button type="button" className="plain link" onClick={() => window.location.reload()}>
        Load the page again
      </button>
      , or go on to another place above. If it stays so, tell an administrator: <code>{error.message}</code>
    </main>
  );
}

function Drawn({ draw }: { draw: () => ReactNode }) {
  return draw();
}

/** One row of a list: if it cannot be drawn it says so in its place, and the others are drawn. */
export function Row({ what, columns, children }: { what: string; columns?: number; children: () => ReactNode }) {
  const words = (error: Error) => (
    <span className="mid">
      <b>{what}</b> cannot be drawn: <code>{error.message}</code>
    </span>
  );
  return (
    <Boundary
      what={what}
      fallback={(_, error) =>
        columns === undefined ? (
          <p role="alert">{words(error)}</p>
        ) : (
          <tr>
            <td colSpan={columns}>{words(error)}</td>
          </tr>
        )
      }
    >
      <Drawn draw={children} />
    </Boundary>
  );
}
