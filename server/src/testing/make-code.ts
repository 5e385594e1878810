import type { Answer, JoinCodeValues, Routes } from '@gate-roster/contract';
import { plainCode } from '../entry/plain-code.ts';
import type { Client } from './site.ts';

const root = 1;

/**
 * Makes a join code that asks for nothing and has no end, but for these values.
 * @param reader An administrator, who sees all codes.
 */
export async function makeCode(
  maker: Client,
  reader: Client,
  values: Partial<JoinCodeValues>,
): Promise<Answer<Routes['codes']>['codes'][number]> {
  await maker.apply({ kind: 'make-code', values: { ...plainCode, ...values } });
  const [made] = (await reader.call('codes', { params: { groupId: root } })).codes;
  if (!made) throw new Error('no code');
  return made;
}
