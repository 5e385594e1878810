import type { Change, MessageKind } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';

/** What is typed about a message. */
export interface MessageForm {
  /** `branch`: the group with its subgroups. */
  to: 'branch' | 'group' | 'filter' | 'people';
  kind: MessageKind;
  title: string;
  body: string;
  dueDay: string;
  /** One per line. */
  choices: string;
  several: boolean;
  answers: boolean;
  urgent: boolean;
  pinnedUntil: string;
  /** In the browser's time zone, as its field gives it. */
  sendAt: string;
}

export const emptyMessage = (to: MessageForm['to']): MessageForm => ({
  to,
  kind: 'message',
  title: '',
  body: '',
  dueDay: '',
  choices: '',
  several: false,
  answers: true,
  urgent: false,
  pinnedUntil: '',
  sendAt: '',
});

/** The change that the form asks for; null while it has no title. */
export function messageChange(
  form: MessageForm,
  about: { groupId: number; personIds: readonly number[]; filter: FilterPart[] },
): Extract<Change, { kind: 'send-message' }> | null {
  if (form.title.trim() === '') return null;
  const audience = {
    branch: { to: 'groups' as const, groupIds: [about.groupId], withSubgroups: true },
    group: { to: 'groups' as const, groupIds: [about.groupId], withSubgroups: false },
    filter: { to: 'filter' as const, withSubgroups: true, filter: about.filter },
    people: { to: 'people' as const, personIds: [...about.personIds] },
  }[form.to];
  const lines = form.choices.split('\n').map((line) => line.trim());
  return {
    kind: 'send-message',
    groupId: about.groupId,
    audience,
    values: {
      kind: form.kind,
      title: form.title.trim(),
      body: form.body.trim(),
      answers: form.answers,
      urgent: form.urgent,
      pinnedUntil: form.pinnedUntil || null,
      dueDay: form.kind === 'task' ? form.dueDay || null : null,
      choices: form.kind === 'question' ? [...new Set(lines.filter((line) => line !== ''))] : [],
      several: form.kind === 'question' && form.several,
      sendAt: form.sendAt === '' ? null : new Date(form.sendAt).toISOString(),
    },
  };
}
