import { type ReactNode, useEffect, useRef } from 'react';

/**
 * The heading of a page, which is its title too: in the window, in the history, and for whoever hears the page. Where it changes while the page is open
 * ("12 cases need your judgement"), that is read out.
 */
export function Heading({ children }: { children: ReactNode }) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    const words = heading.current?.textContent ?? '';
    document.title = words === '' || words === 'Lucid Verdict' ? 'Lucid Verdict' : `${words} · Lucid Verdict`;
  });
  return (
    <h1 ref={heading} aria-live="polite">
      {children}
    </h1>
  );
}
