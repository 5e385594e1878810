const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' });

/** @example dayOfText('2026-11-03') // '3 November 2026' */
export const dayOfText = (day: string): string => dayFormat.format(new Date(`${day}T00:00:00Z`));
