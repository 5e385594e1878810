import type { Change, ReminderRow } from '@gate-roster/contract';
import { type ReminderOccasion, reminderTexts } from '@gate-roster/core';

/** What is typed about a reminder. */
export interface ReminderForm {
  courseId: number | null;
  state: 'remind' | 'nobody' | 'above';
  days: number;
  hasOwnText: boolean;
  subject: string;
  body: string;
  alsoPassed: boolean;
}

const firstDays: Record<ReminderOccasion, number> = {
  'before due': 7,
  'on due': 0,
  'after due': 3,
  'not begun': 14,
  'membership ends': 14,
  'group ends': 14,
  'seat ends': 14,
  'certificate ends': 30,
};

/** What a group says, or would say first. */
export function reminderForm(occasion: ReminderOccasion, row: ReminderRow | null): ReminderForm {
  const { subject, body } = row?.text ?? reminderTexts[occasion];
  return {
    courseId: row?.course?.id ?? null,
    state: row && row.days === null ? 'nobody' : 'remind',
    days: row?.days ?? firstDays[occasion],
    hasOwnText: row ? row.text !== null : false,
    subject,
    body,
    alsoPassed: true,
  };
}

/** The change that the form asks for. */
export function reminderChange(groupId: number, occasion: ReminderOccasion, form: ReminderForm): Extract<Change, { kind: 'set-reminder' }> {
  const values =
    form.state === 'above'
      ? null
      : form.state === 'nobody'
        ? ('nobody' as const)
        : {
            days: occasion === 'on due' ? 0 : Math.max(0, Math.min(365, Math.round(form.days) || 0)),
            text: form.hasOwnText ? { subject: form.subject.trim(), body: form.body.trim() } : null,
            alsoPassed: form.alsoPassed,
          };
  return { kind: 'set-reminder', groupId, courseId: form.courseId, occasion, values };
}
