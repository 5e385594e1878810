import { reactive } from 'vue';

interface Action {
  label: string;
  run: () => void;
}

/** One short message at the foot of the screen, with at most one act. */
export const notice = reactive({
  isShown: false,
  text: '',
  action: null as Action | null,
  /** How many there were: each is shown for its whole time, also when it replaces another. */
  count: 0,
  act(): void {
    this.isShown = false;
    this.action?.run();
  },
});

export function tell(text: string, action: Action | null = null): void {
  Object.assign(notice, { isShown: true, text, action, count: notice.count + 1 });
}
