import type { ChangeModules } from '../changes/plan.ts';
import { planEndCertificate, planGiveCertificates, planSetCertificate, planWithdrawCertificates } from './change-certificates.ts';

/** Kinds of change of this room. */
export const certificatesChanges = {
  'set-certificate': { power: 'markWork', plan: planSetCertificate },
  'end-certificate': { power: 'markWork', plan: planEndCertificate },
  'give-certificates': { power: 'markWork', plan: planGiveCertificates },
  'withdraw-certificates': { power: 'markWork', plan: planWithdrawCertificates },
} satisfies Partial<ChangeModules>;
