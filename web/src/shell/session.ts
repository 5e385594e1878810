import type { Me } from '@gate-roster/contract';
import type { Power } from '@gate-roster/core';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { call, Failure } from '../api/call.ts';
import { tellMomentsIn } from '../ui/format.ts';

/** Who is signed in. `undefined`: not asked yet; null: nobody. */
export const useSession = defineStore('session', () => {
  const me = ref<Me | null>();
  watch(
    () => me.value?.timeZone,
    (zone) => {
      if (zone !== undefined) tellMomentsIn(zone);
    },
    { flush: 'sync' },
  );
  const isAdministrator = computed(() => me.value?.role === 'administrator');
  const isLeader = computed(() => isAdministrator.value || (me.value?.leaderships.length ?? 0) > 0);
  const hasPower = (power: Power): boolean =>
    isAdministrator.value || (me.value?.leaderships.some(({ powers }) => powers.includes(power)) ?? false);

  async function load(): Promise<Me | null> {
    if (me.value !== undefined) return me.value;
    try {
      me.value = await call('me', {});
    } catch (error) {
      if (!(error instanceof Failure) || error.code !== 'not-signed-in') throw error;
      me.value = null;
    }
    return me.value;
  }

  /** Powers may have changed while the stream was away; who is not signed in any more finds out with the next click. */
  async function refresh(): Promise<void> {
    const now = await call('me', {}).catch(() => null);
    if (now && JSON.stringify(now) !== JSON.stringify(me.value)) me.value = now;
  }

  async function signOut(): Promise<void> {
    await call('signOut', {});
    me.value = null;
  }
  return { me, isAdministrator, isLeader, hasPower, load, refresh, signOut };
});
