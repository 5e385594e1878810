import type { Directive } from 'vue';

/**
 * Gives the field the focus as soon as it is drawn. A field's own `autofocus` waits until it is seen, and may
 * take the focus from somebody who is typing in the next field already.
 */
export const vFocusFirst: Directive<HTMLElement, void> = {
  mounted(element) {
    element.querySelector<HTMLElement>('input, textarea')?.focus();
  },
};
