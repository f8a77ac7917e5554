import { describe, expect, it } from 'vitest';
import { vectorParts } from './vectors';

describe('a CVSS vector', () => {
  it.each([
    ['CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H', 'CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H', ''],
    [
      'CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:C/C:H/I:H/A:H/E:P/RL:O/RC:X/MAV:L',
      'CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:C/C:H/I:H/A:H',
      'threat E:P RL:O; environment MAV:L',
    ],
    [
      'CVSS:4.0/AV:N/AC:L/AT:N/PR:N/UI:N/VC:H/VI:H/VA:H/SC:N/SI:N/SA:N/E:A/CR:H/S:P/U:Red',
      'CVSS:4.0/AV:N/AC:L/AT:N/PR:N/UI:N/VC:H/VI:H/VA:H/SC:N/SI:N/SA:N',
      'threat E:A; environment CR:H; supplement S:P U:Red',
    ],
    ['AV:N/AC:L/Au:N/C:P/I:P/A:P/E:ND', 'AV:N/AC:L/Au:N/C:P/I:P/A:P', ''],
  ])('is told in two parts: %s', (vector, base, apart) => {
    expect(vectorParts(vector)).toEqual({ base, apart });
  });
});
