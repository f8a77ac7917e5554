import { Select } from 'antd';
import type { Schemas } from '../api/client';
import { DayPart } from '../frame/DayPart';
import { HostNames } from '../frame/HostNames';
import { Term } from '../frame/Term';
import { TextPart } from '../frame/TextPart';
import { count, day } from '../words/dates';
import type { Population, Target } from './ladder';

/** "lantern-desktop" of pkg:generic/lantern-desktop. */
const nameOf = (product: string) => product.slice(product.lastIndexOf('/') + 1);

/** The releases that a population stays at, to be worded. */
export function StaysAtParts({
  population,
  platforms,
  now,
  change,
}: {
  population: Population;
  platforms: string[];
  now: Date;
  change: (part: Partial<Population>) => void;
}) {
  const targets = population.staysAt ?? [];
  const set = (place: number, part: Partial<Target>) =>
    change({ staysAt: targets.map((target, at) => (at === place ? { ...target, ...part } : target)) });
  const free = platforms.filter((product) => !targets.some((target) => target.product === product));
  return (
    <div>
      They <Term name="stays at">stay at</Term>{' '}
      {targets.map((target, place) => (
        <span key={target.product}>
          <Select
            aria-label="Platform"
            variant="borderless"
            popupMatchSelectWidth={false}
            value={target.product}
            options={[target.product, ...free].map((product) => ({ value: product, label: nameOf(product) }))}
            onChange={(product) => set(place, { product })}
          />{' '}
          release{' '}
          <TextPart
            label="Release"
            placeholder="which?"
            width={60}
            longest={100}
            value={target.release}
            change={(release) => set(place, { release })}
          />{' '}
          (supported until{' '}
          {target.supportEnds === undefined ? (
            <button
              type="button"
              className="plain link"
              onClick={() => set(place, { supportEnds: new Date(now.getTime() + 90 * 86_400_000).toISOString().slice(0, 10) })}
            >
              nobody said when
            </button>
          ) : (
            <DayPart
              label="Last day of support"
              value={target.supportEnds}
              now={now}
              change={(supportEnds) => set(place, { supportEnds })}
            />
          )}
          ){' '}
          <button
            type="button"
            className="plain link"
            aria-label={`No longer stay at a release of ${nameOf(target.product)}`}
            onClick={() => change({ staysAt: targets.filter((_, at) => at !== place) })}
          >
            ×
          </button>
          {place < targets.length - 1 ? ', ' : ''}
        </span>
      ))}
      {targets.length === 0 && 'no release of a platform'}
      {free[0] !== undefined && (
        <>
          {targets.length > 0 ? '; ' : ': '}
          <button
            type="button"
            className="plain link"
            onClick={() => change({ staysAt: [...targets, { product: free[0] as string, release: '' }] })}
          >
            {targets.length > 0 ? 'and at another' : 'hold at one'}
          </button>
        </>
      )}
      .
    </div>
  );
}

/** "Stays at lantern-desktop 6, supported until Fri 12 Feb: 150 hosts at it; 21 above it, which are never lowered." */
export function StaysAtLines({ targets, now }: { targets: Schemas['TargetView'][]; now: Date }) {
  return targets.map(({ product, release, supportEnds, below, at, above }) => {
    const past = supportEnds !== undefined && new Date(`${supportEnds}T23:59:59Z`) < now;
    return (
      <p key={product}>
        <Term name="stays at">Stays at</Term>{' '}
        <b>
          {nameOf(product)} {release}
        </b>
        {supportEnds !== undefined && (
          <span className={past ? 'strong' : undefined}>
            , {past ? 'whose support ended' : 'supported until'} {day(`${supportEnds}T12:00:00Z`, now)}
          </span>
        )}
        : {count(at.count, 'host')} at it
        {below.count > 0 && (
          <>
            ; {below.count} below it <HostNames hosts={below} most={2} />
          </>
        )}
        {above.count > 0 && (
          <>
            ; {above.count} above it, never lowered: <HostNames hosts={above} most={3} />
          </>
        )}
        .
      </p>
    );
  });
}
