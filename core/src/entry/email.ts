export type EmailProblem = 'no at' | 'two ats' | 'nothing before the at' | 'no ending' | 'not an address';

/** What is wrong with an address, in the order in which one would look; null when nothing is. */
export function emailProblem(email: string): EmailProblem | null {
  const parts = email.split('@');
  if (parts.length === 1) return 'no at';
  if (parts.length > 2) return 'two ats';
  const [local = '', domain = ''] = parts;
  if (local === '') return 'nothing before the at';
  if (!domain.includes('.')) return 'no ending';
  const fits = /^[^\s@<>(),;:"]+$/u.test(local) && /^[\p{L}\p{N}](?:[\p{L}\p{N}.-]*)\.[\p{L}]{2,}$/u.test(domain) && !domain.includes('..');
  return fits && email.length <= 254 ? null : 'not an address';
}

export const emailKey = (email: string): string => email.trim().toLowerCase();
