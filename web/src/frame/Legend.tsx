import type { ReactNode } from 'react';
import { createPortal } from 'react-dom';

/** The keys of the open place, in the line at the foot. */
export function Legend({ children }: { children: ReactNode }) {
  const foot = document.getElementById('legend');
  return foot ? createPortal(children, foot) : null;
}

export function Key({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span className="key">
      <kbd>{name}</kbd> {children}
    </span>
  );
}
