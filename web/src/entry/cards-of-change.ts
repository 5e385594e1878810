import type { Router } from 'vue-router';
import { call } from '../api/call.ts';

/** To the sign-in cards of those whom a change made. */
export async function goToCards(router: Router, changeId: number): Promise<void> {
  const { ids } = await call('changePeople', { params: { changeId } });
  await router.push({ name: 'cards', state: { personIds: ids } });
}
