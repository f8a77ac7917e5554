import { describe, expect, it } from 'vitest';
import { completions, unknownTraits } from '../frame/WherePart';

const traits = [
  { name: 'model', type: 'TEXT' as const, values: ['S2', 'S20', 'K4'] },
  { name: 'platform', type: 'TEXT' as const, values: ['Lantern Desktop 6', 'Tarn Linux 4'] },
  { name: 'spool_free_mb', type: 'NUMBER' as const, values: [] },
];
const values = (text: string) => completions(text, traits).map((one) => one.value);

describe('a condition as it is typed', () => {
  it('is completed by the names of traits where one is expected', () => {
    expect(values('')).toEqual(['model', 'platform', 'spool_free_mb']);
    expect(values('model = S2 and sp')).toEqual(['model = S2 and spool_free_mb']);
    expect(values('model')).toEqual([]);
  });
  it('is completed by the values that hosts have, quoted where they must be', () => {
    expect(values('model = ')).toEqual(['model = S2', 'model = S20', 'model = K4']);
    expect(values('model = s2')).toEqual(['model = S20']);
    expect(values('not (model in (K4, S')).toEqual(['not (model in (K4, S2', 'not (model in (K4, S20']);
    expect(values('platform = Lan')).toEqual(['platform = "Lantern Desktop 6"']);
    expect(values('platform != "Tarn L')).toEqual(['platform != "Tarn Linux 4"']);
    expect(values('spool_free_mb < ')).toEqual([]);
  });
  it('names what is no trait of any host', () => {
    expect(unknownTraits('modell = S2 and spool_free_mb < 300', traits)).toEqual(['modell']);
    expect(unknownTraits('not model in (a, b) or platform = "x = y" or fingerprint is not set', traits)).toEqual(['fingerprint']);
    expect(unknownTraits('model', traits)).toEqual([]);
  });
});
