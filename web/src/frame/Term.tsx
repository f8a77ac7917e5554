import { Tooltip } from 'antd';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { anchorOf, TERMS, type TermName } from '../words/terms';

/** A term that tells what it means when the pointer rests on it or the focus comes to it, and leads to the glossary. */
export function Term({ name, children }: { name: TermName; children?: ReactNode }) {
  return (
    <Tooltip title={TERMS[name]} mouseEnterDelay={0.4} trigger={['hover', 'focus']}>
      <dfn>
        <Link className="term" to={`/help#${anchorOf(name)}`}>
          {children ?? name}
        </Link>
      </dfn>
    </Tooltip>
  );
}
