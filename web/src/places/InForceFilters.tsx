import { Input, type InputRef, Select } from 'antd';
import type { RefObject } from 'react';
import type { Schemas } from '../api/client';
import { usePopulations } from '../api/queries';
import type { Changes } from '../frame/useAddress';
import styles from './InForce.module.css';

type Kind = Schemas['InForceRow']['kind'];

const KINDS: { value: Kind; label: string }[] = [
  { value: 'BLOCK', label: 'Blocks' },
  { value: 'DEFER', label: 'Deferrals' },
  { value: 'PILOT', label: 'Pilots' },
  { value: 'FORCE', label: 'Forces' },
  { value: 'EXCEPTION', label: 'Exceptions' },
  { value: 'FREEZE', label: 'Freezes' },
  { value: 'CAUTION', label: 'Caution' },
  { value: 'LOOK_AGAIN', label: 'To be looked at again' },
];

/** Which decisions the address asks for. */
export const inForceAsked = (search: URLSearchParams) => ({
  kind: (search.get('kind') ?? undefined) as Kind | undefined,
  population: search.get('population') ?? undefined,
  person: search.get('person') ?? undefined,
  text: search.get('text') ?? undefined,
});

interface Props {
  asked: ReturnType<typeof inForceAsked>;
  /** Authors and owners. */
  people: string[];
  finding: RefObject<InputRef | null>;
  set: (changes: Changes) => void;
}

/** The filters of decisions, in force or on a past day. */
export function InForceFilters({ asked, people, finding, set }: Props) {
  const populations = usePopulations();
  return (
    <>
      <Input
        ref={finding}
        aria-label="Search in force"
        placeholder="update, product, words"
        allowClear
        className={styles.find}
        value={asked.text ?? ''}
        onChange={(e) => set({ text: e.target.value })}
      />
      <Select
        aria-label="Kind of decision"
        variant="borderless"
        allowClear
        placeholder="Everything"
        popupMatchSelectWidth={false}
        value={asked.kind}
        onChange={(value) => set({ kind: value })}
        options={KINDS}
      />
      <Select
        aria-label="Population"
        variant="borderless"
        allowClear
        placeholder="All populations"
        popupMatchSelectWidth={false}
        value={asked.population}
        onChange={(value) => set({ population: value })}
        options={[
          ...(populations.data?.populations.map((p) => ({ value: p.id, label: p.name })) ?? []),
          { value: 'none', label: 'In no population' },
        ]}
      />
      <Select
        aria-label="Person"
        variant="borderless"
        allowClear
        placeholder="Everybody"
        popupMatchSelectWidth={false}
        value={asked.person}
        onChange={(value) => set({ person: value })}
        options={people.map((value) => ({ value }))}
      />
    </>
  );
}
