import type { AskedChange, ChosenPeople, MessageKind, MessageValues } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { momentTyped } from '../ui/format.ts';

/** What is typed about a message. */
export interface MessageForm {
  /** `branch`: the group with its subgroups. */
  to: 'branch' | 'group' | 'several' | 'filter' | 'people';
  /** Groups below, of `several`. */
  groups: number[];
  kind: MessageKind;
  title: string;
  body: string;
  dueDay: string;
  /** One per line. */
  choices: string;
  several: boolean;
  ownWords: boolean;
  isNamed: boolean;
  /** Who joins later sees it too. */
  laterToo: boolean;
  tally: MessageValues['tally'];
  closes: boolean;
  activityId: number | null;
  tags: string[];
  files: { id: number; name: string }[];
  answers: boolean;
  urgent: boolean;
  pinnedUntil: string;
  /** In the browser's time zone, as its field gives it. */
  sendAt: string;
}

export const emptyMessage = (to: MessageForm['to']): MessageForm => ({
  to,
  groups: [],
  kind: 'message',
  title: '',
  body: '',
  dueDay: '',
  choices: '',
  several: false,
  ownWords: false,
  isNamed: true,
  laterToo: true,
  tally: 'leaders',
  closes: false,
  activityId: null,
  tags: [],
  files: [],
  answers: true,
  urgent: false,
  pinnedUntil: '',
  sendAt: '',
});

/** The change that the form asks for; null while it has no title. */
export function messageChange(
  form: MessageForm,
  about: { groupId: number; people: ChosenPeople; filter: FilterPart[] },
): Extract<AskedChange, { kind: 'send-message' }> | null {
  if (form.title.trim() === '' || (form.to === 'several' && form.groups.length === 0)) return null;
  const whole = (groupIds: number[], withSubgroups: boolean) => ({
    to: 'groups' as const,
    groupIds,
    withSubgroups,
    ...(form.laterToo ? {} : { onlyNow: true }),
  });
  const audience = {
    branch: whole([about.groupId], true),
    group: whole([about.groupId], false),
    several: whole(form.groups, true),
    filter: { to: 'filter' as const, withSubgroups: true, filter: about.filter },
    people: { to: 'people' as const, personIds: about.people },
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
      dueDay: form.kind === 'message' ? null : form.dueDay || null,
      closes: form.kind !== 'message' && form.dueDay !== '' && form.closes,
      activityId: form.kind === 'task' ? form.activityId : null,
      choices: form.kind === 'question' ? [...new Set(lines.filter((line) => line !== ''))] : [],
      several: form.kind === 'question' && form.several,
      ownWords: form.kind === 'question' && form.ownWords,
      isNamed: form.isNamed,
      tally: form.tally,
      tags: form.tags.map((tag) => tag.trim()).filter((tag) => tag !== ''),
      fileIds: form.files.map(({ id }) => id),
      sendAt: form.sendAt === '' ? null : momentTyped(form.sendAt),
    },
  };
}
