/** What each group of metrics is called, and which metrics are in it (CVSS v3.1 sections 3 and 4, v4.0 sections 3 to 5). */
const APART: [string, string[]][] = [
  ['threat', ['E', 'RL', 'RC']],
  ['environment', ['CR', 'IR', 'AR', 'MAV', 'MAC', 'MAT', 'MPR', 'MUI', 'MS', 'MC', 'MI', 'MA', 'MVC', 'MVI', 'MVA', 'MSC', 'MSI', 'MSA']],
  ['supplement', ['S', 'AU', 'R', 'V', 'RE', 'U']],
];

/** A vector in two parts: what the base score is made of, and in words what is told beside it and does not change it. */
export function vectorParts(vector: string): { base: string; apart: string } {
  const [head, ...metrics] = vector.split('/');
  const isVersion4 = head === 'CVSS:4.0';
  const group = (metric: string) =>
    APART.find(([name, names]) => (isVersion4 || name !== 'supplement') && names.includes(metric.split(':')[0] ?? ''))?.[0];
  const apart = APART.flatMap(([name]) => {
    const told = metrics.filter((metric) => group(metric) === name && !metric.endsWith(':X') && !metric.endsWith(':ND'));
    return told.length === 0 ? [] : [`${name} ${told.join(' ')}`];
  });
  return { base: [head, ...metrics.filter((metric) => group(metric) === undefined)].join('/'), apart: apart.join('; ') };
}
